import { cosTurns, sinTurns } from '../math/elementary';
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

const numbers = (attributes: Attributes, name: string, count: number): readonly number[] | undefined => {
  const value = attributes[name]?.value;
  const list = Array.isArray(value) ? value : [value];
  return list.length === count && list.every((v) => typeof v === 'number' && Number.isFinite(v))
    ? (list as number[])
    : undefined;
};

/** Four times four numbers for row vectors; after division by w, x and y run from −1 to 1 over the picture's width and height. */
export type Projection = readonly number[];

const product = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: 16 }, (_, i) => {
    const [row, column] = [i >> 2, i & 3];
    return [0, 1, 2, 3].reduce((sum, k) => sum + a[row * 4 + k] * b[k * 4 + column], 0);
  });

/** From a camera that looks along −z to the picture, by half of its width and height at distance 1. */
const through = (across: number, upwards: number): number[] => [
  1 / across,
  0,
  0,
  0,
  0,
  1 / upwards,
  0,
  0,
  0,
  0,
  1,
  -1,
  0,
  0,
  0,
  0,
];

const unit = (v: readonly number[]) => {
  const length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
  return v.map((c) => c / length);
};
const cross = (a: readonly number[], b: readonly number[]) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** World to camera from where it stands, where it looks and what is above it. */
function looking(eye: readonly number[], forward: readonly number[], above: readonly number[]): number[] {
  const ahead = unit(forward);
  const right = unit(cross(ahead, above));
  const up = cross(right, ahead);
  const rows = [0, 1, 2].flatMap((i) => [right[i], up[i], -ahead[i], 0]);
  return [...rows, -dot(right, eye), -dot(up, eye), dot(ahead, eye), 1];
}

/**
 * From the world to the picture, by a file's attributes ("Standard Optional Header Attributes", OpenEXR): `worldToNDC`; else `worldToCamera`, or
 * `cameraPosition`, `cameraForward` and `cameraUp`, with `fieldOfView` in degrees across the width. `aspect` is width by height. Undefined where the
 * attributes do not tell.
 */
export function projectionOf(attributes: Attributes, aspect: number): Projection | undefined {
  const whole = numbers(attributes, 'worldToNDC', 16);
  if (whole) return whole;
  const view = numbers(attributes, 'fieldOfView', 1)?.[0];
  if (view === undefined || !(view > 0 && view < 179)) return undefined;
  const across = sinTurns(view / 720) / cosTurns(view / 720);
  const matrix = numbers(attributes, 'worldToCamera', 16);
  const lens = through(across, across / aspect);
  if (matrix) return product(matrix, lens);
  const [eye, forward, above] = ['cameraPosition', 'cameraForward', 'cameraUp'].map((name) =>
    numbers(attributes, name, 3),
  );
  return eye && forward && above && product(looking(eye, forward, above), lens);
}

/**
 * Where a place of the world is in a picture: pixels from its middle, x to the right and y upwards. Undefined for what is behind the camera, or in its
 * plane.
 */
export function projected(
  m: Projection,
  [x, y, z]: readonly number[],
  { width, height }: { width: number; height: number },
): { x: number; y: number } | undefined {
  const to = (c: number) => x * m[c] + y * m[4 + c] + z * m[8 + c] + m[12 + c];
  const w = to(3);
  return w > 1e-9 ? { x: ((to(0) / w) * width) / 2, y: ((to(1) / w) * height) / 2 } : undefined;
}
