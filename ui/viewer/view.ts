/** The view of the picture: its zoom and the position of its upper left corner. */
export type View = { k: number; x: number; y: number };
export type Extent = { width: number; height: number };

/** A pointer position in pixels of the full frame; `over` is an element of the overlay. */
export function framePoint(
  hand: { clientX: number; clientY: number },
  over: Element,
  view: View,
): { x: number; y: number } {
  const svg = over.closest('svg') ?? over;
  const { left, top } = svg.getBoundingClientRect();
  return { x: (hand.clientX - left - view.x) / view.k, y: (hand.clientY - top - view.y) / view.k };
}
