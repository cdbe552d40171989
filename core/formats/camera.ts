import type { Attributes } from './exr/types';

/**
 * The camera position, from the standard attribute `worldToCamera` ("Standard Optional Header Attributes", OpenEXR): row vectors times M
 * go from world space to the camera's, so the camera is the point that goes to the origin, c = −t R⁻¹. Undefined where there is none, or
 * it cannot be inverted.
 */
export function cameraPosition(attributes: Attributes): [number, number, number] | undefined {
  const a = attributes.worldToCamera;
  if (a?.type !== 'm44f') return undefined;
  const m = a.value as readonly number[];
  const [a1, a2, a3, , b1, b2, b3, , c1, c2, c3, , t1, t2, t3] = m;
  const det = a1 * (b2 * c3 - b3 * c2) - a2 * (b1 * c3 - b3 * c1) + a3 * (b1 * c2 - b2 * c1);
  if (!Number.isFinite(det) || Math.abs(det) < 1e-12) return undefined;
  const inverse = [
    [b2 * c3 - b3 * c2, a3 * c2 - a2 * c3, a2 * b3 - a3 * b2],
    [b3 * c1 - b1 * c3, a1 * c3 - a3 * c1, a3 * b1 - a1 * b3],
    [b1 * c2 - b2 * c1, a2 * c1 - a1 * c2, a1 * b2 - a2 * b1],
  ];
  const at = [0, 1, 2].map((j) => -(t1 * inverse[0][j] + t2 * inverse[1][j] + t3 * inverse[2][j]) / det);
  return [at[0], at[1], at[2]];
}
