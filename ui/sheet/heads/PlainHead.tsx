import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { findAnimated, headAddress } from '@/core/finish/animated';
import type { Strand } from '@/core/finish/finish';
import { headLabel } from '../../board/head-label';
import { t } from '../../words/words';
import { AnimatedField } from '../fields/AnimatedField';
import { InputHead } from './InputHead';

/** A head that is a colour, a gradient, or split off another strand. */
export function PlainHead({ strand, shot }: { strand: Strand; shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const { head } = strand;
  if (head.type === 'tap')
    return (
      <p className="border-b border-line px-4 py-3 text-quiet">{t`Split off, ${headLabel(finish, head)}.`}</p>
    );
  if (head.type === 'input') return <InputHead strand={strand} head={head} />;
  const of = headAddress(strand.id);
  const keys = Object.keys(findAnimated(finish, of)?.specs ?? {});
  if (keys.length === 0) return null;
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-3" aria-label={t`Head`}>
      {keys.map((key) => (
        <AnimatedField key={key} of={of} valueKey={key} shot={shot} />
      ))}
    </section>
  );
}
