import { useShot } from '@/browser/session/store';
import { formatNumber } from '../parts/format-value';
import { nudgeOf } from '../parts/nudge';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';

/** A full drag across this many pixels goes from one end of the range to the other. */
const width = 160;

/**
 * The values of a data pass that are shown darkest and brightest, dragged to either side; a double click goes back to those of the picture, its
 * 1st and 99th percentiles.
 */
export function DataRange({ range }: { range: readonly [number, number] }) {
  const change = useShot((s) => s.change);
  const set = useShot((s) => s.dataRange);
  const [low, high] = range;
  type Held = { end: 0 | 1; from: readonly [number, number]; before: typeof set };
  /** One of the ends moved, not past the other. */
  const shifted = (end: 0 | 1, from: readonly [number, number], by: number): [number, number] => {
    const least = (from[1] - from[0]) * 1e-3;
    const to = from[end] + by;
    return end === 0 ? [Math.min(to, from[1] - least), from[1]] : [from[0], Math.max(to, from[0] + least)];
  };
  const moved = ({ end, from }: Held, hand: Hand) =>
    shifted(end, from, (hand.dx / width) * (from[1] - from[0]) * (hand.shiftKey ? 5 : hand.altKey ? 0.1 : 1));
  const press = useDrag<Held>({
    start: (e) => ({
      end: (e.currentTarget as HTMLElement).dataset.end === '1' ? 1 : 0,
      from: range,
      before: set,
    }),
    preview: (held, hand) => hand.moved && change({ dataRange: moved(held, hand) }),
    commit: (held, hand) => hand.moved && change({ dataRange: moved(held, hand) }),
    cancel: ({ before }) => change({ dataRange: before }),
  });
  const end = (which: 0 | 1, name: string) => (
    <span
      data-end={which}
      className="cursor-ew-resize touch-none rounded px-1 select-none hover:bg-base-300"
      title={t`${name}: drag to change it. Double-click to use the picture’s percentiles.`}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={range[which]}
      aria-valuetext={formatNumber(range[which])}
      onKeyDown={(e) => {
        const nudge = nudgeOf(e);
        if (nudge) change({ dataRange: shifted(which, range, ((nudge.dx - nudge.dy) * (high - low)) / 100) });
      }}
      onPointerDown={press}
      onDoubleClick={() => change({ dataRange: undefined })}
    >
      {formatNumber(range[which])}
    </span>
  );
  return (
    <div
      className="absolute bottom-3 left-3 flex items-center gap-1 rounded bg-black/70 px-1.5 py-1 text-xs"
      role="group"
      aria-label={t`Shown from ${formatNumber(low)} to ${formatNumber(high)}`}
      data-testid="data-range"
    >
      {end(0, t`Near, shown black`)}
      <span className="h-2.5 w-16 rounded-sm bg-linear-to-r from-black to-white" aria-hidden="true" />
      {end(1, t`Far, shown white`)}
    </div>
  );
}
