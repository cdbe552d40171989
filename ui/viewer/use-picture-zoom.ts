import { select } from 'd3-selection';
import { type D3ZoomEvent, zoom as makeZoom, type ZoomBehavior, zoomIdentity } from 'd3-zoom';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { Size } from '@/core/picture/region';

const room = 12;

/**
 * A picture on a canvas that is as large as its box: fitted in until one zooms or pans; zoom goes about the cursor. Keeps the canvas as fine as the
 * screen.
 */
export function usePictureZoom(canvas: RefObject<HTMLCanvasElement | null>, full: Size) {
  const behaviour = useRef<ZoomBehavior<HTMLCanvasElement, unknown>>(undefined);
  const [box, setBox] = useState<Size>({ width: 0, height: 0 });
  const [view, setView] = useState({ k: 1, x: 0, y: 0 });
  const fitted = useRef(true);
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
  }, [canvas]);
  const point = useCallback(
    (k: number) => {
      const x = (box.width - full.width * k) / 2;
      const y = (box.height - full.height * k) / 2;
      if (box.width > 0)
        select(canvas.current!).call(behaviour.current!.transform, zoomIdentity.translate(x, y).scale(k));
    },
    [canvas, box, full.width, full.height],
  );
  const fitIn = useCallback(() => {
    fitted.current = true;
    point(Math.min((box.width - 2 * room) / full.width, (box.height - 2 * room) / full.height));
  }, [box, full.width, full.height, point]);
  useEffect(() => {
    if (fitted.current) fitIn();
  }, [fitIn]);
  const fullSize = useCallback(() => {
    fitted.current = false;
    point(1);
  }, [point]);
  // Setting its size clears a canvas, and takes long.
  useEffect(() => {
    canvas.current!.width = Math.round(box.width * window.devicePixelRatio);
    canvas.current!.height = Math.round(box.height * window.devicePixelRatio);
  }, [canvas, box]);
  return { box, view, fitIn, fullSize };
}
