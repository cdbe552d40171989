import { memo, useState } from 'react';
import { type Box, useShot } from '@/browser/session/store';
import { useDrag } from '../parts/use-drag';
import { type Extent, framePoint, type View } from './view';

/** The framed region; while the tool is out, a drag frames a new one. */
export const RegionTool = memo(function RegionTool({ view, full }: { view: View; full: Extent }) {
  const region = useShot((s) => s.region);
  const framing = useShot((s) => s.tool?.type === 'region');
  const change = useShot((s) => s.change);
  const [drawing, setDrawing] = useState<Box | null>(null);
  const clamp = (v: number, most: number) => Math.max(0, Math.min(most, v));
  const boxOf = (a: { x: number; y: number }, b: { x: number; y: number }): Box => {
    const [x0, x1] = [a.x, b.x].map((v) => Math.round(clamp(v, full.width))).sort((p, q) => p - q);
    const [y0, y1] = [a.y, b.y].map((v) => Math.round(clamp(v, full.height))).sort((p, q) => p - q);
    return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
  };
  type Held = { from: { x: number; y: number }; svg: Element };
  const press = useDrag<Held>({
    start: (e) => ({ from: framePoint(e, e.currentTarget, view), svg: e.currentTarget }),
    preview: ({ from, svg }, hand) => setDrawing(boxOf(from, framePoint(hand, svg, view))),
    commit: ({ from, svg }, hand) => {
      const box = boxOf(from, framePoint(hand, svg, view));
      setDrawing(null);
      // A click frames nothing: all of the picture again.
      change({ tool: undefined, region: box.width > 4 && box.height > 4 ? box : undefined });
    },
    cancel: () => setDrawing(null),
  });
  if (!region && !framing) return null;
  const drawn = drawing ?? region;
  return (
    <svg
      className={`absolute inset-0 h-full w-full touch-none select-none ${framing ? 'cursor-crosshair' : 'pointer-events-none'}`}
      data-testid="region"
      aria-hidden="true"
      onPointerDown={framing ? press : undefined}
    >
      {drawn && (
        <rect
          x={view.x + drawn.x * view.k}
          y={view.y + drawn.y * view.k}
          width={drawn.width * view.k}
          height={drawn.height * view.k}
          fill="none"
          stroke="#e9e9e9"
          strokeDasharray="6 4"
        />
      )}
    </svg>
  );
});
