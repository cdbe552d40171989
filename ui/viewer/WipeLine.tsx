import { useShot } from '@/browser/session/store';
import { nudgeOf } from '../parts/nudge';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { type Extent, framePoint, type View } from './view';

type Props = { view: View; full: Extent; box: Extent };

/** Long enough to cross any viewer. */
const far = 20_000;
const turnAt = 70;
/** Pixels that an arrow key moves the line. */
const step = 4;

/** The line of a wipe: its middle is dragged along, its knob turns it. */
export function WipeLine({ view, full, box }: Props) {
  const compare = useShot((s) => s.compare);
  const change = useShot((s) => s.change);
  const [u, v] = compare.at;
  const px = view.x + u * full.width * view.k;
  const py = view.y + v * full.height * view.k;
  const turn = (compare.angle * Math.PI) / 180;
  const [dx, dy] = [Math.cos(turn), -Math.sin(turn)];
  const set = (part: Partial<typeof compare>) => change({ compare: { ...compare, ...part } });
  type Held = { what: string; svg: Element; before: typeof compare };
  const dragTo = ({ what, svg }: Held, hand: Hand) => {
    const p = framePoint(hand, svg, view);
    if (what === 'move') return set({ at: [p.x / full.width, p.y / full.height] });
    const angle = (Math.atan2(v * full.height - p.y, p.x - u * full.width) * 180) / Math.PI;
    // Near a quarter turn it snaps, unless Alt is held.
    const straight = Math.round(angle / 90) * 90;
    set({ angle: !hand.altKey && Math.abs(angle - straight) < 3 ? straight : Math.round(angle) });
  };
  const press = useDrag<Held>({
    start: (e) => {
      e.stopPropagation();
      const what = (e.currentTarget as SVGElement).dataset.grip!;
      return { what, svg: e.currentTarget.closest('svg')!, before: compare };
    },
    preview: dragTo,
    commit: dragTo,
    cancel: ({ before }) => change({ compare: before }),
  });
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full touch-none"
      viewBox={`0 0 ${Math.max(1, box.width)} ${Math.max(1, box.height)}`}
      role="group"
      aria-label={t`Line of the wipe`}
    >
      <line
        x1={px - dx * far}
        y1={py - dy * far}
        x2={px + dx * far}
        y2={py + dy * far}
        stroke="#000"
        strokeOpacity={0.5}
        strokeWidth={3}
      />
      <line
        x1={px - dx * far}
        y1={py - dy * far}
        x2={px + dx * far}
        y2={py + dy * far}
        stroke="#e9e9e9"
        strokeWidth={1.25}
      />
      <line
        data-testid="wipe"
        x1={px - dx * far}
        y1={py - dy * far}
        x2={px + dx * far}
        y2={py + dy * far}
        stroke="transparent"
        strokeWidth={14}
        className="pointer-events-auto cursor-move"
        data-grip="move"
        onPointerDown={press}
      />
      <circle
        cx={px}
        cy={py}
        r={6}
        fill="#151515"
        stroke="#e9e9e9"
        strokeWidth={1.5}
        className="pointer-events-auto cursor-move"
        data-grip="move"
        onPointerDown={press}
        role="button"
        tabIndex={0}
        aria-label={t`Wipe: arrows move its line`}
        onKeyDown={(e) => {
          const nudge = nudgeOf(e);
          if (nudge) set({ at: [u + (nudge.dx * step) / full.width, v + (nudge.dy * step) / full.height] });
        }}
      />
      <circle
        cx={px + dx * turnAt}
        cy={py + dy * turnAt}
        r={5}
        fill="#6f9dff"
        stroke="#151515"
        className="pointer-events-auto cursor-grab"
        data-grip="turn"
        onPointerDown={press}
        role="button"
        tabIndex={0}
        aria-label={t`Angle of the wipe, ${Math.round(compare.angle)}°: arrows turn it`}
        onKeyDown={(e) => {
          const nudge = nudgeOf(e);
          if (nudge) set({ angle: compare.angle + nudge.dx - nudge.dy });
        }}
      />
    </svg>
  );
}
