import type { KeyboardEvent, PointerEvent } from 'react';
import { previewed, useShot, useShotStore } from '@/browser/session/store';
import { shapeOn } from '@/core/finish/animated';
import type { Edit } from '@/core/finish/edit';
import type { Shape } from '@/core/finish/heads';
import { removeShape, setPath, shifted } from '@/core/finish/shape-edits';
import { transformedPath, untransformed } from '@/core/finish/shapes';
import type { PathPoint } from '@/core/math/path';
import { isInside, nearestOn, splitPath } from '@/core/mattes/edit-path';
import { toPathData } from '@/core/mattes/svg';
import { nudgeOf } from '../parts/nudge';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { framePoint, type View } from './view';

type Point = { x: number; y: number };
/** The dragged thing: the shape, some of its points, or a handle of a point. */
type Grip = { of: Shape; from: Point; points: PathPoint[]; svg: Element } & (
  | { type: 'shape' }
  | { type: 'points'; picked: readonly number[] }
  | { type: 'in' | 'out'; index: number }
);

/** Frames beside this one on which the outline of a shape that moves is shown too, those before in another tint than those after. */
const neighbours = [-2, -1, 1, 2];

/** As near as this, in pixels of the screen, counts as on the line. */
const near = 7;

/** The shapes of the chosen matte over the picture: chosen, moved and reshaped by hand. */
export function ShapeEditor({ view, strandId }: { view: View; strandId: string }) {
  const store = useShotStore();
  const doc = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const chosen = useShot((s) => s.shape);
  const picked = useShot((s) => s.points);
  const change = useShot((s) => s.change);
  const animates = useShot((s) => s.animates);
  const head = doc.strands.find((s) => s.id === strandId)?.head;
  const all = head?.type === 'shapes' ? head.shapes.filter((s) => !s.hidden) : [];
  const shapes = all.map((s) => shapeOn(doc, s, frame));
  const shape = shapes.find((s) => s.id === chosen);
  const path = shape ? transformedPath(shape) : [];

  const reshaped = (of: Shape, points: readonly PathPoint[]): Edit =>
    setPath(store.getState().finish, strandId, of.id, frame, untransformed(of, points), animates);
  const after = (g: Grip, p: Point, alone: boolean): PathPoint[] => {
    const [dx, dy] = [p.x - g.from.x, p.y - g.from.y];
    if (!('index' in g)) {
      if (g.type === 'shape') return shifted(g.points, dx, dy);
      return g.points.map((q, i) => (g.picked.includes(i) ? shifted([q], dx, dy)[0] : q));
    }
    return g.points.map((q, i) => {
      if (i !== g.index) return q;
      const [hx, hy] = [p.x - q.x, p.y - q.y];
      const other = g.type === 'in' ? 'out' : 'in';
      // The other handle turns along, as long as it was, unless Alt holds it.
      const length = Math.hypot(...(q[other] ?? [0, 0]));
      const pull = Math.hypot(hx, hy) || 1;
      const turned =
        q[other] && !alone ? ([(-hx / pull) * length, (-hy / pull) * length] as const) : q[other];
      return { ...q, [g.type]: [hx, hy] as const, ...(turned ? { [other]: turned } : {}) };
    });
  };
  /** On the line or inside of a shape, the uppermost first. */
  const shapeUnder = (p: Point) =>
    [...shapes].reverse().find((s) => {
      const points = transformedPath(s);
      return nearestOn(points, p.x, p.y).away * view.k < near || isInside(points, p.x, p.y, s.fillRule);
    });
  /** The pressed thing: a handle or a point by its element's attributes, else the shape under the pointer. */
  const gripOf = (e: PointerEvent): Grip | undefined => {
    const svg = (e.currentTarget as Element).closest('svg')!;
    const from = framePoint(e, svg, view);
    const { point, side, index: of } = (e.target as SVGElement).dataset;
    if (shape && side)
      return { type: side as 'in' | 'out', index: Number(of), of: shape, from, points: path, svg };
    if (shape && point !== undefined) {
      const index = Number(point);
      const others = e.shiftKey ? picked.filter((i) => i !== index) : picked.includes(index) ? picked : [];
      const all = [index, ...others.filter((i) => i !== index)];
      change({ points: all });
      return { type: 'points', picked: all, of: shape, from, points: path, svg };
    }
    const under = shapeUnder(from);
    change({ shape: under?.id, points: [] });
    return under && { type: 'shape', of: under, from, points: transformedPath(under), svg };
  };
  const movedBy = (g: Grip, hand: Hand) =>
    reshaped(g.of, after(g, framePoint(hand, g.svg, view), hand.altKey));
  const press = useDrag<Grip>({
    start: (e) => {
      const grip = gripOf(e);
      (e.currentTarget as SVGSVGElement).focus();
      return grip;
    },
    preview: (g, hand) => hand.moved && change({ preview: movedBy(g, hand) }),
    commit: (g, hand) => hand.moved && store.getState().edit(movedBy(g, hand)),
    cancel: () => change({ preview: undefined }),
  });
  if (head?.type !== 'shapes') return null;
  const key = (e: KeyboardEvent<SVGSVGElement>) => {
    if (!shape) return;
    const { edit } = store.getState();
    const nudge = nudgeOf(e);
    if (nudge) {
      const { dx, dy } = nudge;
      const all = picked.length === 0;
      edit(
        reshaped(
          shape,
          path.map((q, i) => (all || picked.includes(i) ? shifted([q], dx, dy)[0] : q)),
        ),
      );
    } else if (e.key === 'Delete' || e.key === 'Backspace') {
      const left = path.filter((_, i) => !picked.includes(i));
      if (picked.length > 0 && left.length >= 2) edit(reshaped(shape, left));
      else edit((finish) => removeShape(finish, strandId, shape.id));
      change({ points: [], ...(picked.length === 0 || left.length < 2 ? { shape: undefined } : {}) });
    } else if (e.key === 'Escape') change({ points: [], shape: picked.length ? shape.id : undefined });
    else if (e.key === 'a' && (e.ctrlKey || e.metaKey)) change({ points: path.map((_, i) => i) });
    else return;
    e.preventDefault();
    e.nativeEvent.stopImmediatePropagation();
  };
  const split = (e: React.MouseEvent<SVGSVGElement>) => {
    if (!shape) return;
    const p = framePoint(e, e.currentTarget, view);
    const on = nearestOn(path, p.x, p.y);
    if (on.away * view.k > near) return;
    store.getState().edit(reshaped(shape, splitPath(path, on.index, on.t)));
    change({ points: [on.index + 1] });
  };
  const size = (v: number) => v / view.k;
  return (
    <svg
      className="absolute inset-0 h-full w-full touch-none outline-none select-none"
      style={{ pointerEvents: 'none' }}
      data-testid="shapes"
      aria-label={t`Shapes on the picture`}
      role="application"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it takes the keys that nudge points
      tabIndex={0}
      onPointerDown={press}
      onDoubleClick={split}
      onKeyDown={key}
    >
      <g transform={`translate(${view.x} ${view.y}) scale(${view.k})`}>
        {all
          .filter((s) => s.id === chosen && s.animation)
          .flatMap((s) =>
            neighbours.map((by) => (
              <path
                key={by}
                d={toPathData(transformedPath(shapeOn(doc, s, frame + by)))}
                fill="none"
                stroke={by < 0 ? '#f2b45f' : '#8fcf9b'}
                strokeOpacity={0.65 / Math.abs(by)}
                strokeWidth={size(1)}
                data-neighbour={by}
              />
            )),
          )}
        {shapes.map((s) => {
          const data = toPathData(transformedPath(s));
          const mine = s.id === chosen;
          return (
            <g key={s.id} className="cursor-move" style={{ pointerEvents: 'all' }} data-shape={s.id}>
              <path d={data} fill="transparent" stroke="#151515" strokeOpacity={0.7} strokeWidth={size(3)} />
              <path
                d={data}
                fill="none"
                stroke={s.operation === 'subtract' ? '#ff8f87' : mine ? '#6f9dff' : '#c9c9c9'}
                strokeWidth={size(mine ? 1.75 : 1.25)}
                strokeDasharray={s.operation === 'intersect' ? `${size(6)} ${size(3)}` : undefined}
              />
            </g>
          );
        })}
        {path.map((p, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name
          <g key={index} style={{ pointerEvents: 'all' }}>
            {picked.includes(index) &&
              (['in', 'out'] as const).map((side) => {
                const [hx, hy] = p[side] ?? [0, 0];
                if (hx === 0 && hy === 0) return null;
                return (
                  <g key={side}>
                    <line
                      x1={p.x}
                      y1={p.y}
                      x2={p.x + hx}
                      y2={p.y + hy}
                      stroke="#f2b45f"
                      strokeWidth={size(1)}
                    />
                    <circle
                      cx={p.x + hx}
                      cy={p.y + hy}
                      r={size(4)}
                      className="cursor-grab"
                      fill="#f2b45f"
                      stroke="#151515"
                      strokeWidth={size(1)}
                      data-index={index}
                      data-side={side}
                    />
                  </g>
                );
              })}
            <rect
              x={p.x - size(4)}
              y={p.y - size(4)}
              width={size(8)}
              height={size(8)}
              className="cursor-move"
              data-point={index}
              fill={picked.includes(index) ? '#f2b45f' : '#e9e9e9'}
              stroke="#151515"
              strokeWidth={size(1)}
            />
          </g>
        ))}
      </g>
    </svg>
  );
}
