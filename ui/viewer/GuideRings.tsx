import { memo } from 'react';
import { previewed, useShot, useShotStore } from '@/browser/session/store';
import type { Finish } from '@/core/finish/finish';
import { moveGuide } from '@/core/finish/guide-edits';
import { type Guide, placeOn } from '@/core/time/guides';
import { nudgeOf } from '../parts/nudge';
import { useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { type Extent, framePoint, type View } from './view';

/** Frames to each side of the playhead whose dots are brighter. */
const near = 10;
type Measured = NonNullable<Finish['guides']>[number];

/** Dots of a path at most. */
const mostDots = 600;

/** Guides on the picture while the drawer shows them: a ring with a name, and a path with a dot a frame. */
export const GuideRings = memo(function GuideRings({ view, full }: { view: View; full: Extent }) {
  const guides = useShot((s) => previewed(s).guides);
  const open = useShot((s) => s.drawer === 'guides');
  const frame = useShot((s) => s.frame);
  // A tool on the picture may be meant for what a ring lies on.
  const picking = useShot((s) => s.tool !== undefined);
  const change = useShot((s) => s.change);
  const store = useShotStore();
  const onScreen = ({ x, y }: { x: number; y: number }) => ({
    x: view.x + (full.width / 2 + x) * view.k,
    y: view.y + (full.height / 2 - y) * view.k,
  });
  const press = useDrag<{ id: string; svg: Element }>({
    start: (e) => {
      e.stopPropagation();
      return { id: (e.currentTarget as SVGElement).dataset.guide!, svg: e.currentTarget.closest('svg')! };
    },
    preview: (held, hand) => hand.moved && change({ preview: moved(held, hand) }),
    commit: (held, hand) => {
      if (hand.moved) store.getState().edit(moved(held, hand));
    },
    cancel: () => change({ preview: undefined }),
  });
  const moved = ({ id, svg }: { id: string; svg: Element }, hand: { clientX: number; clientY: number }) => {
    const p = framePoint(hand, svg, view);
    return moveGuide(store.getState().finish, id, frame, {
      x: p.x - full.width / 2,
      y: full.height / 2 - p.y,
    });
  };
  if (!open || !guides || guides.length === 0) return null;
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full touch-none select-none"
      aria-label={t`Guides`}
      role="group"
    >
      {guides.map((g) => {
        const at = onScreen(placeOn(g, frame));
        const way = pathOf(g).map(({ frame: f, ...p }) => ({ frame: f, ...onScreen(p) }));
        return (
          <g key={g.id}>
            {way.length > 1 && (
              <polyline
                points={way.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' ')}
                fill="none"
                stroke="#8fcf9b"
                strokeOpacity={0.7}
              />
            )}
            {way.length > 1 &&
              way.map((p) => (
                <circle
                  key={p.frame}
                  cx={p.x}
                  cy={p.y}
                  r={1.8}
                  fill="#8fcf9b"
                  fillOpacity={Math.abs(p.frame - frame) <= near ? 1 : 0.35}
                />
              ))}
            <g
              className={picking ? '' : 'pointer-events-auto cursor-move'}
              data-guide={g.id}
              data-testid={`guide-${g.name}`}
              role="button"
              tabIndex={picking ? -1 : 0}
              aria-label={t`Guide ${g.name}: arrows move it`}
              onPointerDown={press}
              onKeyDown={(e) => {
                const nudge = nudgeOf(e);
                if (!nudge) return;
                const { x, y } = placeOn(g, frame);
                store
                  .getState()
                  .edit((doc) => moveGuide(doc, g.id, frame, { x: x + nudge.dx, y: y - nudge.dy }));
              }}
            >
              <title>{g.name}</title>
              <circle cx={at.x} cy={at.y} r={14} fill="transparent" />
              <circle cx={at.x} cy={at.y} r={9} fill="none" stroke="#151515" strokeWidth={3.5} />
              <circle
                cx={at.x}
                cy={at.y}
                r={9}
                fill="none"
                stroke="#8fcf9b"
                strokeWidth={1.75}
                strokeDasharray={isHidden(g, frame) ? '3 3' : undefined}
              />
            </g>
            <text
              x={at.x + 14}
              y={at.y - 8}
              fill="#e9e9e9"
              stroke="#151515"
              strokeWidth={3}
              paintOrder="stroke"
              fontSize={12}
            >
              {g.name}
            </text>
          </g>
        );
      })}
    </svg>
  );
});

/** Whether what a guide was measured of is behind something there. */
const isHidden = ({ source }: Measured, frame: number) =>
  source?.type === 'scene' && source.hidden?.includes(frame) === true;

/** Where a guide is on each frame from its first key to its last. */
function pathOf(g: Guide): { frame: number; x: number; y: number }[] {
  const [first, last] = [
    Math.min(g.x[0].frame, g.y[0].frame),
    Math.max(g.x.at(-1)!.frame, g.y.at(-1)!.frame),
  ];
  const every = Math.max(1, Math.ceil((last - first + 1) / mostDots));
  const way: { frame: number; x: number; y: number }[] = [];
  for (let f = first; f <= last; f += every) way.push({ frame: f, ...placeOn(g, f) });
  return way;
}
