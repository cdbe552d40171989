import { useStore } from 'zustand';
import { useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import type { BoardView } from './board-view';
import { bottomOf, headHeight, rowY, stepHeight } from './geometry';
import { type BoardLayout, stepsOf } from './use-board';

const [mostWide, mostHigh] = [150, 96];

/** All of the board in small, with what is seen framed; it is dragged to look elsewhere. There only while not all is seen. */
export function Overview({ layout, view }: { layout: BoardLayout; view: BoardView }) {
  const { columns, rows, width, height, endY } = layout;
  const seen = useStore(view.seen);
  // In a narrow panel it must not lie over what one works on.
  const room = Math.max(64, Math.min(1, seen.width / 600) * mostWide);
  const scale = Math.min(room / width, mostHigh / height);
  const look = (x: number, y: number) =>
    view.panBy((-seen.x + seen.width / 2) / seen.k - x, (-seen.y + seen.height / 2) / seen.k - y);
  const press = useDrag<DOMRect>({
    start: (e) => {
      const box = e.currentTarget.getBoundingClientRect();
      look((e.clientX - box.left) / scale, (e.clientY - box.top) / scale);
      return box;
    },
    preview: (box, e) => look((e.clientX - box.left) / scale, (e.clientY - box.top) / scale),
    commit: () => {},
    cancel: () => {},
  });
  if (width * seen.k <= seen.width + 1 && height * seen.k <= seen.height + 1) return null;
  return (
    <svg
      className="absolute right-2 bottom-9 cursor-move touch-none rounded border border-line bg-base-100/90"
      width={width * scale}
      height={height * scale}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={t`Overview of the board`}
      data-testid="overview"
      onPointerDown={press}
    >
      {columns.map(({ strand, x, width: wide }, i) => (
        <g key={strand.id} fill="#7d7d7d">
          <rect
            x={x}
            y={rowY(rows.get(strand.id)!)}
            width={wide}
            height={rows.get(strand.id) === 0 ? headHeight : stepHeight}
            fill="#a8a8a8"
            rx={8}
          />
          {stepsOf(strand).map((step) => (
            <rect key={step.id} x={x} y={rowY(rows.get(step.id)!)} width={wide} height={stepHeight} rx={8} />
          ))}
          <line
            x1={x + 15}
            x2={x + 15}
            y1={bottomOf(rows.get(strand.id)!)}
            y2={i === 0 ? endY : rowY(rows.get(stepsOf(strand).at(-1)?.id ?? strand.id)!)}
            stroke="#7d7d7d"
            strokeWidth={8}
          />
        </g>
      ))}
      <rect
        data-testid="overview-frame"
        x={Math.max(0, -seen.x / seen.k)}
        y={Math.max(0, -seen.y / seen.k)}
        width={Math.min(width, seen.width / seen.k)}
        height={Math.min(height, seen.height / seen.k)}
        fill="none"
        stroke="var(--color-primary)"
        strokeWidth={2.5 / scale}
      />
    </svg>
  );
}
