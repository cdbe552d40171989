import { previewed, useRefusing, useShot } from '@/browser/session/store';
import type { Edit } from '@/core/finish/edit';
import { setHead } from '@/core/finish/edits';
import type { Finish, Head, Strand } from '@/core/finish/finish';
import type { ValueSpec } from '@/core/steps/define';
import { headLabel } from '../board/head-label';
import { ValueField } from './ValueField';

/** A head that is a colour, a gradient, or split off another strand. */
export function PlainHead({ strand }: { strand: Strand }) {
  const finish = useShot((s) => s.finish);
  const change = useShot((s) => s.change);
  const refusing = useRefusing();
  const shown = useShot(previewed).strands.find((s) => s.id === strand.id);
  const head = shown?.head ?? strand.head;
  const to = (doc: Finish, part: object): Edit => {
    const next = { ...head, ...part } as Head;
    return setHead(doc, strand.id, next, 'picture', headLabel(doc, next));
  };
  if (head.type === 'tap')
    return <p className="border-b border-line px-4 py-3 text-quiet">Split off, {headLabel(finish, head)}.</p>;
  if (head.type !== 'colour' && head.type !== 'gradient') return null;
  const field = (key: string, name: string, spec: ValueSpec) => (
    <ValueField
      key={key}
      id={`head-${key}`}
      spec={{ ...spec, name }}
      value={head[key as never]}
      onPreview={(v) => change({ preview: v === undefined ? undefined : to(finish, { [key]: v }) })}
      onCommit={(v) => refusing((doc) => to(doc, { [key]: v }))}
    />
  );
  const colour = {
    type: 'colour',
    section: 'lay',
    name: '',
    description: 'In linear light.',
    default: [0.18, 0.18, 0.18],
  } as const;
  const alpha = {
    type: 'number',
    section: 'lay',
    name: '',
    description: 'How much it covers.',
    unit: 'ratio',
    default: 1,
    from: 0,
    to: 1,
    soft: [0, 1],
  } as const;
  const angle = {
    ...alpha,
    description: 'Counter-clockwise from the right.',
    unit: 'degrees',
    default: 90,
    from: -3600,
    to: 3600,
    soft: [-180, 180],
  } as const;
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-3" aria-label="Head">
      {head.type === 'colour'
        ? [field('colour', 'Colour', colour), field('alpha', 'Alpha', alpha)]
        : [
            field('from', 'From', colour),
            field('fromAlpha', 'Its alpha', alpha),
            field('to', 'To', colour),
            field('toAlpha', 'Its alpha', alpha),
            field('angle', 'Angle', angle),
          ]}
    </section>
  );
}
