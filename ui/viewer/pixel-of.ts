import type { Shown } from '@/browser/engine/answers';

/** Linear RGBA of what is shown at a pixel of the full frame; undefined where nothing is. */
export function pixelOf(shown: Shown, at: { x: number; y: number }): number[] | undefined {
  const x = Math.floor((at.x + 0.5) * shown.scale) - (shown.region?.x ?? 0);
  const y = Math.floor((at.y + 0.5) * shown.scale) - (shown.region?.y ?? 0);
  if (x < 0 || y < 0 || x >= shown.width || y >= shown.height) return undefined;
  const from = (y * shown.width + x) * 4;
  return Array.from(shown.data.subarray(from, from + 4));
}
