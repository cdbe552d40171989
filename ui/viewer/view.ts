/** How the picture lies in the viewer: its zoom and where its upper left corner is. */
export type View = { k: number; x: number; y: number };
export type Extent = { width: number; height: number };

/** Where a hand is, in pixels of the full frame; `over` is something in the drawing that lies over the viewer. */
export function framePoint(
  hand: { clientX: number; clientY: number },
  over: Element,
  view: View,
): { x: number; y: number } {
  const svg = over.closest('svg') ?? over;
  const { left, top } = svg.getBoundingClientRect();
  return { x: (hand.clientX - left - view.x) / view.k, y: (hand.clientY - top - view.y) / view.k };
}
