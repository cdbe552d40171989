import { ChevronDown, ChevronRight, Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { previewed, useShot } from '@/browser/session/store';
import { useAnswer } from '@/browser/viewer/use-answer';
import { mixedAddress } from '@/core/finish/animated';
import type { MixHead as Head, Strand } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { setMixed, showMix } from '@/core/finish/mix-edits';
import { IconButton } from '../../parts/IconButton';
import { Toggle } from '../../parts/Toggle';
import { t } from '../../words/words';
import { AnimatedField } from '../fields/AnimatedField';

/** The passes of a mix: gain, tint, which count, and where; how far their sum is from the beauty. */
export function MixHead({ strand, head, shot }: { strand: Strand; head: Head; shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const shown = useShot(previewed).strands.find((s) => s.id === strand.id)?.head;
  const [open, setOpen] = useState<number | null>(null);
  const passes = shown?.type === 'mix' ? shown.passes : head.passes;
  const mattes = finish.strands.filter((s) => s.id !== strand.id && kindAt(finish, s.id, 'end') === 'matte');
  const set = (i: number, part: Parameters<typeof setMixed>[3]) => setMixed(finish, strand.id, i, part);
  return (
    <section className="border-b border-line px-4 py-2.5 text-[13px]" aria-label={t`Passes of the mix`}>
      <h3 className="font-semibold text-secondary">{t`Passes`}</h3>
      <ol className="mt-1 grid gap-0.5">
        {passes.map((pass, i) => (
          <li key={pass.pass} className={open === i ? 'rounded bg-base-200 pb-2' : ''}>
            <div className="flex items-center gap-1">
              <IconButton
                icon={pass.off ? EyeOff : Eye}
                label={pass.off ? t`Take ${pass.pass} in` : t`Leave ${pass.pass} out`}
                pressed={pass.off}
                onClick={() => edit(set(i, { off: pass.off ? undefined : true }))}
              />
              <div className="min-w-0 flex-1">
                <AnimatedField of={mixedAddress(strand.id, i)} valueKey="gain" name={pass.pass} shot={shot} />
              </div>
              <IconButton
                icon={open === i ? ChevronDown : ChevronRight}
                label={open === i ? t`Close ${pass.pass}` : t`Open ${pass.pass}`}
                onClick={() => setOpen(open === i ? null : i)}
              />
            </div>
            {open === i && (
              <div className="grid gap-1.5 px-2">
                <Toggle
                  label={t`Solo`}
                  title={t`While any pass is solo, only solo passes count.`}
                  checked={pass.solo ?? false}
                  onChange={(on) => edit(set(i, { solo: on || undefined }))}
                />
                <AnimatedField of={mixedAddress(strand.id, i)} valueKey="tint" shot={shot} />
                <label
                  className="flex items-center gap-2"
                  title={t`The objects to which gain and tint apply.`}
                >
                  {t`Applies within`}
                  <select
                    className="select select-xs ml-auto w-36"
                    aria-label={t`Gain of ${pass.pass} applies within`}
                    value={
                      pass.within ? `${pass.within.invert ? 'outside' : 'in'}:${pass.within.strand}` : ''
                    }
                    onChange={(e) => {
                      const [side, strand] = e.target.value.split(':');
                      const invert = side === 'outside' ? { invert: true as const } : {};
                      edit(set(i, { within: strand ? { strand, after: 'end', ...invert } : undefined }));
                    }}
                  >
                    <option value="">{t`Everywhere`}</option>
                    {mattes.map((m) => (
                      <option key={m.id} value={`in:${m.id}`}>
                        {t`In ${m.name}`}
                      </option>
                    ))}
                    {mattes.map((m) => (
                      <option key={m.id} value={`outside:${m.id}`}>
                        {t`Outside ${m.name}`}
                      </option>
                    ))}
                  </select>
                </label>
                {mattes.length === 0 && (
                  <p className="text-xs text-quiet">{t`Start a strand of objects to keep the gain to them.`}</p>
                )}
              </div>
            )}
          </li>
        ))}
      </ol>
      {head.beauty !== undefined && <Residual strand={strand} head={head} />}
    </section>
  );
}

const short = (v: number) => (v === 0 ? '0' : v.toPrecision(2));

/** How far the passes as rendered are from the beauty, as numbers, and the sum as it is now, as a picture. */
function Residual({ strand, head }: { strand: Strand; head: Head }) {
  const edit = useShot((s) => s.edit);
  const range = useAnswer(
    ({ engine, finish, frame }) => engine.residual(finish, strand.id, frame),
    strand.id,
    300,
  );
  return (
    <label
      className="mt-2 flex cursor-pointer items-center gap-2"
      title={t`What the beauty has beyond the sum of the passes.`}
    >
      {t`Residual`}
      <span className="text-xs text-quiet" data-testid="residual">
        {range ? t`as rendered ${short(range.mean)}, at most ${short(range.most)}` : '…'}
      </span>
      <input
        type="checkbox"
        className="toggle toggle-xs toggle-primary ml-auto"
        aria-label={t`Show the residual`}
        checked={head.show === 'residual'}
        onChange={(e) => edit(showMix(strand.id, e.target.checked ? 'residual' : 'sum'))}
      />
    </label>
  );
}
