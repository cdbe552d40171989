import { select } from 'd3-selection';
import { type D3ZoomEvent, zoom as makeZoom, type ZoomBehavior, zoomIdentity } from 'd3-zoom';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Shown } from '@/browser/engine/answers';
import { useShot } from '@/browser/session/store';
import { useKey } from '../parts/use-key';
import { DrawTool } from './DrawTool';
import { Handles } from './Handles';
import { RegionTool } from './RegionTool';
import { ShapeEditor } from './ShapeEditor';
import { WipeLine } from './WipeLine';

export type Pointed = { x: number; y: number };
type Size = { width: number; height: number };
type Props = {
  shown: Shown | undefined;
  /** Size of the full frame; a draft is drawn as large. */
  full: Size;
  onPoint(at: Pointed | null): void;
  onZoom(zoom: number): void;
  /** A click that is no drag, in pixels of the full frame. */
  onPick(at: Pointed, shift: boolean): void;
  /** True if the shown picture is not the requested one. */
  dimmed?: boolean;
};

const room = 12;
/** Longer than any viewer. */
const far = 20_000;

/** The picture at any zoom about the cursor; pixels stay sharp squares when zoomed in. */
export function PictureCanvas({ shown, full, onPoint, onZoom, onPick, dimmed }: Props) {
  const compare = useShot((s) => s.compare);
  const flipped = useShot((s) => s.flipped);
  const tool = useShot((s) => s.tool);
  const region = useShot((s) => s.region);
  const shapesOn = useShot((s) =>
    s.finish.strands.find((x) => x.id === s.selected)?.head.type === 'shapes' ? s.selected : undefined,
  );
  const canvas = useRef<HTMLCanvasElement>(null);
  const behaviour = useRef<ZoomBehavior<HTMLCanvasElement, unknown>>(undefined);
  const [box, setBox] = useState<Size>({ width: 0, height: 0 });
  const [view, setView] = useState({ k: 1, x: 0, y: 0 });
  const fitted = useRef(true);
  const bitmap = useRef<HTMLCanvasElement>(undefined);
  const second = useRef<HTMLCanvasElement>(undefined);
  const pressed = useRef<{ x: number; y: number }>(undefined);

  useEffect(() => {
    const node = canvas.current!;
    const observer = new ResizeObserver(() => setBox({ width: node.clientWidth, height: node.clientHeight }));
    observer.observe(node);
    const zoom = makeZoom<HTMLCanvasElement, unknown>().scaleExtent([0.05, 64]);
    zoom.on('zoom', ({ transform, sourceEvent }: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
      if (sourceEvent) fitted.current = false;
      setView({ k: transform.k, x: transform.x, y: transform.y });
    });
    behaviour.current = zoom;
    select(node).call(zoom).on('dblclick.zoom', null);
    return () => observer.disconnect();
  }, []);

  const point = useCallback(
    (k: number) => {
      const x = (box.width - full.width * k) / 2;
      const y = (box.height - full.height * k) / 2;
      if (box.width > 0)
        select(canvas.current!).call(behaviour.current!.transform, zoomIdentity.translate(x, y).scale(k));
    },
    [box, full.width, full.height],
  );
  const fitIn = useCallback(() => {
    fitted.current = true;
    point(Math.min((box.width - 2 * room) / full.width, (box.height - 2 * room) / full.height));
  }, [box, full.width, full.height, point]);
  useEffect(() => {
    if (fitted.current) fitIn();
  }, [fitIn]);
  useKey('f', fitIn);
  useKey('1', () => {
    fitted.current = false;
    point(1);
  });
  useEffect(() => onZoom(view.k), [view.k, onZoom]);

  useEffect(() => {
    if (!shown) return;
    const fill = (into: { current: HTMLCanvasElement | undefined }, bytes: Shown['pixels']) => {
      into.current ??= document.createElement('canvas');
      into.current.width = shown.width;
      into.current.height = shown.height;
      into.current.getContext('2d')!.putImageData(new ImageData(bytes, shown.width, shown.height), 0, 0);
    };
    fill(bitmap, shown.pixels);
    if (shown.other) fill(second, shown.other);
  }, [shown]);

  useEffect(() => {
    const node = canvas.current!;
    const dense = window.devicePixelRatio;
    node.width = Math.round(box.width * dense);
    node.height = Math.round(box.height * dense);
    const g = node.getContext('2d')!;
    if (!bitmap.current || !shown) return;
    const draw = (picture: HTMLCanvasElement, shift = 0) => {
      g.setTransform(dense * view.k, 0, 0, dense * view.k, dense * (view.x + shift), dense * view.y);
      g.imageSmoothingEnabled = view.k * dense < 2 || shown.scale < 1;
      g.imageSmoothingQuality = 'high';
      const { x, y, of } = shown.region ?? { x: 0, y: 0, of: shown };
      const [sx, sy] = [full.width / of.width, full.height / of.height];
      g.drawImage(picture, x * sx, y * sy, shown.width * sx, shown.height * sy);
    };
    const clipped = (path: () => void, work: () => void) => {
      g.save();
      g.setTransform(dense, 0, 0, dense, 0, 0);
      g.beginPath();
      path();
      g.clip();
      work();
      g.restore();
    };
    const other = shown.other && second.current;
    if (shown.region && region) {
      // What was computed reaches a little further than the frame.
      g.setTransform(dense, 0, 0, dense, 0, 0);
      g.beginPath();
      g.rect(
        view.x + region.x * view.k,
        view.y + region.y * view.k,
        region.width * view.k,
        region.height * view.k,
      );
      g.clip();
    }
    if (!other || flipped) return draw(other && flipped ? other : bitmap.current);
    if (compare.mode === 'side') {
      const middle = box.width / 2;
      clipped(
        () => g.rect(0, 0, middle - 1, box.height),
        () => draw(bitmap.current!, -middle / 2),
      );
      clipped(
        () => g.rect(middle + 1, 0, middle, box.height),
        () => draw(other, middle / 2),
      );
      return;
    }
    draw(bitmap.current);
    // The other lies to the right of the line as one looks along it.
    const turn = (compare.angle * Math.PI) / 180;
    const [dx, dy] = [Math.cos(turn) * far, -Math.sin(turn) * far];
    const [px, py] = [
      view.x + compare.at[0] * full.width * view.k,
      view.y + compare.at[1] * full.height * view.k,
    ];
    const half = () => {
      g.moveTo(px - dx, py - dy);
      g.lineTo(px + dx, py + dy);
      g.lineTo(px + dx - dy, py + dy + dx);
      g.lineTo(px - dx - dy, py - dy + dx);
      g.closePath();
    };
    clipped(half, () => draw(other));
  }, [shown, box, view, full.width, full.height, compare, flipped, region]);

  const toPixel = (e: { clientX: number; clientY: number; currentTarget: Element }): Pointed => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return {
      x: Math.floor((e.clientX - left - view.x) / view.k),
      y: Math.floor((e.clientY - top - view.y) / view.k),
    };
  };
  return (
    <>
      <canvas
        ref={canvas}
        data-testid="viewer"
        data-scale={shown?.scale}
        data-frame={shown?.frame}
        data-dimmed={dimmed}
        className={`absolute inset-0 h-full w-full cursor-crosshair touch-none select-none ${dimmed ? 'opacity-25' : ''}`}
        role="img"
        aria-label="The picture"
        onPointerMove={(e) => onPoint(toPixel(e))}
        onPointerDown={(e) => {
          pressed.current = { x: e.clientX, y: e.clientY };
        }}
        onClick={(e) => {
          const from = pressed.current;
          if (!from || Math.hypot(e.clientX - from.x, e.clientY - from.y) > 3) return;
          const at = toPixel(e);
          if (at.x >= 0 && at.y >= 0 && at.x < full.width && at.y < full.height) onPick(at, e.shiftKey);
        }}
        onPointerLeave={() => onPoint(null)}
        onDoubleClick={fitIn}
      />
      <Handles view={view} full={full} />
      {shapesOn && <ShapeEditor view={view} strandId={shapesOn} />}
      {tool?.type === 'draw' && (
        <DrawTool key={tool.with} view={view} type={tool.with} strand={tool.strand} />
      )}
      <RegionTool view={view} full={full} />
      {compare.mode === 'wipe' && shown?.other && !flipped && <WipeLine view={view} full={full} box={box} />}
    </>
  );
}
