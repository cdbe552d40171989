import { useRef, useState } from 'react';
import { type DrawTool as Sort, useShot, useShotStore } from '@/browser/session/store';
import { addShapes, freeShapeId, newShape } from '@/core/finish/shape-edits';
import { ellipse, type PathPoint, rectangle } from '@/core/math/path';
import { pathOfLine } from '@/core/mattes/edit-path';
import { toPathData } from '@/core/mattes/svg';
import { useDrag } from '../parts/use-drag';
import { useKey } from '../parts/use-key';
import { t } from '../words/words';
import { framePoint, type View } from './view';

type Point = { x: number; y: number };
const names: Record<Sort, string> = {
  path: t`Path`,
  rectangle: t`Rectangle`,
  ellipse: t`Ellipse`,
  freehand: t`Outline`,
};
/** Freehand lines are simplified to this many pixels of the screen. */
const simplified = 1.5;

/** Draws a new shape: boxes and lines by a drag, a path point by point. */
export function DrawTool({ view, type, strand }: { view: View; type: Sort; strand: string }) {
  const store = useShotStore();
  const change = useShot((s) => s.change);
  const [pulling, setPulling] = useState(false);
  const [line, setLine] = useState<[number, number][]>([]);
  const [path, setPath] = useState<PathPoint[]>([]);
  const [hand, setHand] = useState<Point | null>(null);

  const finish = (points: readonly PathPoint[]) => {
    setLine([]);
    setPath([]);
    setBox([]);
    if (points.length < (type === 'ellipse' || type === 'freehand' ? 2 : 3)) return;
    const doc = store.getState().finish;
    const id = freeShapeId(doc, strand);
    store.getState().edit(addShapes(strand, [newShape(id, `${names[type]} ${id.split('-').pop()}`, points)]));
    change({ tool: undefined, shape: id, points: [] });
  };
  useKey('enter', () => path.length > 2 && finish(path));
  useKey('backspace', () => setPath((p) => p.slice(0, -1)));

  const boxed = (a: Point, b: Point, e: { shiftKey: boolean }): PathPoint[] => {
    let [w, h] = [b.x - a.x, b.y - a.y];
    if (e.shiftKey) {
      const side = Math.max(Math.abs(w), Math.abs(h));
      [w, h] = [Math.sign(w) * side, Math.sign(h) * side];
    }
    if (Math.abs(w) * view.k < 3 || Math.abs(h) * view.k < 3) return [];
    return type === 'ellipse'
      ? ellipse(a.x + w / 2, a.y + h / 2, Math.abs(w / 2), Math.abs(h / 2))
      : rectangle(
          Math.min(a.x, a.x + w),
          Math.min(a.y, a.y + h),
          Math.max(a.x, a.x + w),
          Math.max(a.y, a.y + h),
        );
  };
  const [box, setBox] = useState<PathPoint[]>([]);

  /** The line as it is drawn, faster than it is shown. */
  const drawn = useRef<[number, number][]>([]);
  type Held = { from: Point; svg: Element; before: PathPoint[] };
  const press = useDrag<Held>({
    start: (e) => {
      const svg = e.currentTarget;
      const p = framePoint(e, svg, view);
      const held = { from: p, svg, before: path };
      if (type === 'freehand') drawn.current = [[p.x, p.y]];
      if (type !== 'path') return held;
      const [first] = path;
      if (path.length > 2 && Math.hypot(p.x - first.x, p.y - first.y) * view.k < 9) {
        finish(path);
        return undefined;
      }
      setPath([...path, p]);
      setPulling(true);
      return held;
    },
    preview: ({ from, svg }, hand) => {
      const p = framePoint(hand, svg, view);
      if (type === 'freehand') {
        drawn.current = [...drawn.current, [p.x, p.y]];
        setLine(drawn.current);
      } else if (type === 'path') {
        // A drag pulls the handles out, the same to both sides.
        const [dx, dy] = [p.x - from.x, p.y - from.y];
        if (Math.hypot(dx, dy) * view.k < 4) return;
        setPath((now) =>
          now.map((q, i) => (i === now.length - 1 ? { ...q, in: [-dx, -dy], out: [dx, dy] } : q)),
        );
      } else setBox(boxed(from, p, hand));
    },
    commit: ({ from, svg }, hand) => {
      setPulling(false);
      if (type === 'freehand')
        finish(drawn.current.length > 8 ? pathOfLine(drawn.current, simplified / view.k) : []);
      else if (type !== 'path') finish(boxed(from, framePoint(hand, svg, view), hand));
    },
    cancel: ({ before }) => {
      setPulling(false);
      setLine([]);
      setBox([]);
      setPath(before);
    },
  });
  const lineData =
    line.length > 1 ? `M${line.map(([x, y]) => `${x} ${y}`).join('L')}` : toPathData(box.length ? box : path);
  const last = path[path.length - 1];
  return (
    <svg
      className="absolute inset-0 h-full w-full cursor-crosshair touch-none select-none"
      data-testid="draw"
      aria-label={t`Draw: ${names[type]}`}
      role="application"
      onPointerDown={press}
      onPointerMove={(e) => setHand(framePoint(e, e.currentTarget, view))}
    >
      <g transform={`translate(${view.x} ${view.y}) scale(${view.k})`}>
        <path d={lineData} fill="#6f9dff" fillOpacity={0.12} stroke="#151515" strokeWidth={3 / view.k} />
        <path d={lineData} fill="none" stroke="#6f9dff" strokeWidth={1.5 / view.k} />
        {type === 'path' && last && hand && !pulling && (
          <line
            x1={last.x}
            y1={last.y}
            x2={hand.x}
            y2={hand.y}
            stroke="#6f9dff"
            strokeWidth={1 / view.k}
            strokeDasharray={`${4 / view.k}`}
          />
        )}
        {path.map((p, i) => (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name
            key={i}
            cx={p.x}
            cy={p.y}
            r={(i === 0 ? 5 : 3.5) / view.k}
            fill={i === 0 ? '#f2b45f' : '#e9e9e9'}
            stroke="#151515"
            strokeWidth={1 / view.k}
          />
        ))}
      </g>
    </svg>
  );
}
