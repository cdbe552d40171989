/** Size of a draft of a `width` by `height` picture; never below one pixel. */
export function draftSize(width: number, height: number, scale: number): { width: number; height: number } {
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}
