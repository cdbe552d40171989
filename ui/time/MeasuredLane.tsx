import { useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useShares } from '@/browser/viewer/use-shares';
import { type Finish, stepName, type Tap } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { stepSpec } from '@/core/steps/registry';
import { t } from '../words/words';

type Measured = { place: Tap; name: string; light: boolean };

/** What can be measured over time: the light that steps add, and what mattes cover. */
const measuredOf = (doc: Finish): Measured[] =>
  doc.strands.flatMap((strand) => [
    ...strand.steps
      .filter((s) => stepSpec(s.type)?.stage === 'light' && !s.bypass)
      .map((s) => ({
        place: { strand: strand.id, after: s.id },
        name: t`Added light › ${stepName(s)}`,
        light: true,
      })),
    ...(kindAt(doc, strand.id, 'end') === 'matte'
      ? [{ place: { strand: strand.id, after: 'end' }, name: t`Coverage › ${strand.name}`, light: false }]
      : []),
  ]);

/** A lane of what is measured of the picture, in place of what is set: the share of light that a step adds, or that a matte covers. */
export function MeasuredLane({ shot, share }: { shot: ShotDetail; share(frame: number): number }) {
  const finish = useShot((s) => s.finish);
  const all = measuredOf(finish);
  const [name, setName] = useState('');
  const chosen = all.find((m) => m.name === name);
  const { shares, progress, stop } = useShares(chosen?.place, shot);
  const points = Object.entries(shares).map(([f, v]): [number, number] => [Number(f), v]);
  const most = Math.max(0, ...points.map(([, v]) => v));
  if (all.length === 0) return null;
  return (
    <div className="flex h-8 items-center gap-4 pr-4 pl-4" onPointerDown={(e) => e.stopPropagation()}>
      <select
        className="select select-xs w-52 shrink-0"
        aria-label={t`Measured over time`}
        value={name}
        onChange={(e) => setName(e.target.value)}
      >
        <option value="">{t`Measure over time…`}</option>
        {all.map((m) => (
          <option key={m.name} value={m.name}>
            {m.name}
          </option>
        ))}
      </select>
      <div className="relative h-full min-w-0 flex-1 border-b border-line/60" data-testid="measured-lane">
        <svg
          className="pointer-events-none absolute inset-0 h-full w-full"
          viewBox="0 0 100 26"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <polyline
            points={points
              .map(([f, v]) => `${share(f).toFixed(2)},${(24 - (most > 0 ? (21 * v) / most : 0)).toFixed(1)}`)
              .join(' ')}
            fill="none"
            stroke={chosen?.light ? '#f2b45f' : '#6f9dff'}
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {chosen && points.length > 0 && (
          <span className="pointer-events-none absolute top-0 right-0 bg-base-200/80 text-[10px] text-quiet">
            {t`0 to ${(most * 100).toPrecision(3)} %`}
          </span>
        )}
        {progress && (
          <span
            className="absolute bottom-0 left-0 flex items-center gap-2 bg-base-200/80 text-[10px]"
            role="status"
          >
            {t`${progress.done} of ${progress.of} frames`}
            <button type="button" className="cursor-pointer underline" onClick={stop}>
              {t`Stop`}
            </button>
          </span>
        )}
      </div>
    </div>
  );
}
