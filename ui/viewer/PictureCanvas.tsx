import { select } from 'd3-selection';
import { type D3ZoomEvent, zoom as makeZoom, type ZoomBehavior, zoomIdentity } from 'd3-zoom';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Shown } from '@/browser/engine.worker';

export type Pointed = { x: number; y: number };
type Size = { width: number; height: number };
type Props = {
  shown: Shown | undefined;
  /** Size of the full frame; a draft is drawn as large. */
  full: Size;
  onPoint(at: Pointed | null): void;
  onZoom(zoom: number): void;
};

const room = 12;

/** The picture at any zoom about the cursor; pixels stay sharp squares when zoomed in. */
export function PictureCanvas({ shown, full, onPoint, onZoom }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const behaviour = useRef<ZoomBehavior<HTMLCanvasElement, unknown>>(undefined);
  const [box, setBox] = useState<Size>({ width: 0, height: 0 });
  const [view, setView] = useState({ k: 1, x: 0, y: 0 });
  const fitted = useRef(true);
  const bitmap = useRef<HTMLCanvasElement>(undefined);

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

  const place = useCallback(
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
    place(Math.min((box.width - 2 * room) / full.width, (box.height - 2 * room) / full.height));
  }, [box, full.width, full.height, place]);
  useEffect(() => {
    if (fitted.current) fitIn();
  }, [fitIn]);
  useHotkeys('f', fitIn, [fitIn]);
  useHotkeys('1', () => {
    fitted.current = false;
    place(1);
  }, [place]);
  useEffect(() => onZoom(view.k), [view.k, onZoom]);

  useEffect(() => {
    if (!shown) return;
    bitmap.current ??= document.createElement('canvas');
    bitmap.current.width = shown.width;
    bitmap.current.height = shown.height;
    const pixels = new ImageData(shown.pixels, shown.width, shown.height);
    bitmap.current.getContext('2d')!.putImageData(pixels, 0, 0);
  }, [shown]);

  useEffect(() => {
    const node = canvas.current!;
    const dense = window.devicePixelRatio;
    node.width = Math.round(box.width * dense);
    node.height = Math.round(box.height * dense);
    const g = node.getContext('2d')!;
    if (!bitmap.current || !shown) return;
    g.setTransform(dense * view.k, 0, 0, dense * view.k, dense * view.x, dense * view.y);
    g.imageSmoothingEnabled = view.k * dense < 2 || shown.scale < 1;
    g.imageSmoothingQuality = 'high';
    g.drawImage(bitmap.current, 0, 0, full.width, full.height);
  }, [shown, box, view, full.width, full.height]);

  return (
    <canvas
      ref={canvas}
      data-testid="viewer"
      data-scale={shown?.scale}
      className="absolute inset-0 h-full w-full cursor-crosshair touch-none select-none"
      role="img"
      aria-label="The picture"
      onPointerMove={(e) => {
        const { left, top } = e.currentTarget.getBoundingClientRect();
        onPoint({
          x: Math.floor((e.clientX - left - view.x) / view.k),
          y: Math.floor((e.clientY - top - view.y) / view.k),
        });
      }}
      onPointerLeave={() => onPoint(null)}
      onDoubleClick={fitIn}
    />
  );
}
