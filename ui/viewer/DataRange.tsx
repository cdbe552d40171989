import { useShot } from '@/browser/session/store';
import { formatNumber } from '../parts/format-value';
import { type Hand, useDrag } from '../parts/use-drag';

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
  const moved = ({ end, from }: Held, hand: Hand): [number, number] => {
    const span = from[1] - from[0];
    const to = from[end] + (hand.dx / width) * span * (hand.shiftKey ? 5 : hand.altKey ? 0.1 : 1);
    const least = span * 1e-3;
    return end === 0 ? [Math.min(to, from[1] - least), from[1]] : [from[0], Math.max(to, from[0] + least)];
  };
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
      title={`${name}: drag to change it. Double-click to use the picture’s percentiles.`}
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
      aria-label={`Shown from ${formatNumber(low)} to ${formatNumber(high)}`}
      data-testid="data-range"
    >
      {end(0, 'Near, shown black')}
      <span className="h-2.5 w-16 rounded-sm bg-linear-to-r from-black to-white" aria-hidden="true" />
      {end(1, 'Far, shown white')}
    </div>
  );
}
