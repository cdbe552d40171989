/** Pointer position on a drawing of `width` by `height` units. */
export function svgPoint(
  hand: { clientX: number; clientY: number },
  svg: Element,
  width: number,
  height: number,
): { px: number; py: number } {
  const box = svg.getBoundingClientRect();
  return {
    px: ((hand.clientX - box.left) / box.width) * width,
    py: ((hand.clientY - box.top) / box.height) * height,
  };
}
