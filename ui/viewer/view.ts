import type { PointerEvent } from 'react';

/** How the picture lies in the viewer: its zoom and where its upper left corner is. */
export type View = { k: number; x: number; y: number };
export type Extent = { width: number; height: number };

/** Where a pointer is, in pixels of the full frame. */
export function framePoint(e: PointerEvent<Element>, view: View): { x: number; y: number } {
  const svg = (e.currentTarget as Element).closest('svg') ?? (e.currentTarget as Element);
  const { left, top } = svg.getBoundingClientRect();
  return { x: (e.clientX - left - view.x) / view.k, y: (e.clientY - top - view.y) / view.k };
}
