import type { PointerEvent } from 'react';

/** Where the hand is on a drawing that is `width` by `height` in its own units. */
export function svgPoint(e: PointerEvent<SVGSVGElement>, width: number, height: number) {
  const box = e.currentTarget.getBoundingClientRect();
  return {
    px: ((e.clientX - box.left) / box.width) * width,
    py: ((e.clientY - box.top) / box.height) * height,
  };
}
