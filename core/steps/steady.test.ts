import { afterEach, describe, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import type { Picture } from '../picture/picture';
import { stepSpec } from './registry';
import { defaultsOf, type Values } from './shared/define';

/**
 * Two laws of whatever spreads or moves light (`docs/truth.md`). *Steady*: a light that moves by fractions of a pixel keeps its centre within 0.05 pixel and
 * its total within 0.1 %. *Size*: the root mean square of a point's image follows its formula within 2 %, and never jumps.
 */
afterEach(() => workspace.clear());

type Run = (picture: Picture) => Picture;
const step =
  (id: string, values: Values, depth?: number): Run =>
  (picture) => {
    const spec = stepSpec(id)!;
    const slots: Record<string, Picture> = depth
      ? { depth: pictureOf(picture.width, picture.height, () => depth) }
      : {};
    return spec.run(workspace, picture, slots, { ...defaultsOf(spec.values), ...values } as never, [], 1);
  };

/** A light of a pixel's size at a place between pixels, on black; alpha 1. */
function lightAt(side: number, x: number, y: number): Picture {
  const picture = pictureOf(side, side, (i) => ((i & 3) === 3 ? 1 : 0));
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  for (const [i, j] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ]) {
    const share = (i ? x - ix : 1 - (x - ix)) * (j ? y - iy : 1 - (y - iy));
    const at = ((iy + j) * side + ix + i) * 4;
    for (let c = 0; c < 3; c++) picture.data[at + c] = 100 * share;
  }
  return picture;
}

/** The total of green light, its centre, and its mean square distance from that. */
function measured({ width, data }: Picture, middle = width / 2, reach = width) {
  let [total, sx, sy, squares] = [0, 0, 0, 0];
  for (let i = 0; i < data.length / 4; i++) {
    const v = data[i * 4 + 1];
    if (v === 0) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    // Transforms leave noise of 10⁻⁶ of the light everywhere, which far out would weigh most.
    if (Math.abs(x - middle) > reach || Math.abs(y - middle) > reach) continue;
    total += v;
    sx += v * x;
    sy += v * y;
    squares += v * (x * x + y * y);
  }
  const [x, y] = [sx / total, sy / total];
  return { total, x, y, square: squares / total - x * x - y * y };
}

/** Places in a pixel, and in the cells of pictures halved twice. */
const places = Array.from({ length: 9 }, (_, i) => [i * 0.4375, i * 0.3125] as const);

/** Depth of a radius: focused on 10, infinity has 64 pixels on a frame of `side`. */
function byDepth(radius: number, side: number): Run {
  const [f, n, focus] = [50, 2, 10_000];
  const onSensor = (f * f) / (n * (focus - f));
  // Half of what is endlessly far, in pixels, is 80.
  const sensorWidth = ((onSensor / 2) * side) / 80;
  return step(
    'defocus',
    { by: 'lens', focus: 10, fNumber: n, focalLength: f, sensorWidth, most: 80 },
    10 / (1 - radius / 80),
  );
}

const radii = [0.5, 0.8, 1.3, 2, 3, 4.9, 5.1, 8, 13.9, 14.1, 20, 33, 64];
/** Wide enough that nothing comes near a border, where the picture goes on as it is there. */
const sideFor = (radius: number) => 2 * Math.ceil(radius * 2.2) + 40;

/** Everything that is steady, and the radius that it is tried with. */
type Spread = [name: string, radius: number, of: (side: number) => Run];
const spreads = radii.flatMap((radius): Spread[] => [
  ['Blur', radius, () => step('blur', { radius: radius / 2 })],
  ['Defocus, even', radius, () => step('defocus', { radius })],
  ['Defocus by depth', radius, (side) => byDepth(radius, side)],
  ['Defocus by depth, near', radius, (side) => byDepth(-radius, side)],
  ['Motion smear', radius, () => step('motion-smear', { length: radius, angle: 33 })],
]);

/** What moves light: in its middle a distortion moves nothing, and a warp of wide noise everything alike. */
const moves: Spread[] = [
  ...['bilinear', 'mitchell', 'lanczos'].map(
    (filter): Spread => [
      `Transform, ${filter}`,
      4,
      () => step('transform', { moveX: 3.37, moveY: -2.21, filter }),
    ],
  ),
  ['Distortion', 4, () => step('distortion', { k1: 0.02 })],
  ['Warp', 6, () => step('warp', { amount: 6, noiseSize: 2000, octaves: 1 })],
];

describe('a light that moves by fractions of a pixel is steady', () => {
  test.each([...spreads, ...moves])('%s, %d', (_, radius, of) => {
    const side = sideFor(radius);
    const run = of(side);
    const middle = Math.floor(side / 2) - 2;
    const moved = places.map(([dx, dy]) => {
      const given = lightAt(side, middle + dx, middle + dy);
      const before = measured(given);
      const after = measured(run(given), middle, 2.2 * radius + 8);
      workspace.clear();
      return [after.x - before.x, after.y - before.y, after.total / before.total];
    });
    const [x0, y0, t0] = moved[0];
    for (const [x, y, total] of moved) {
      expect(Math.abs(x - x0)).toBeLessThan(0.05);
      expect(Math.abs(y - y0)).toBeLessThan(0.05);
      expect(Math.abs(total / t0 - 1)).toBeLessThan(0.001);
    }
    expect(Math.abs(t0 - 1)).toBeLessThan(0.005);
  });
});

describe('the image of a point has the size of its formula, and grows without a jump', () => {
  /** From 0.5 to 20 in steps of 0.1, from there to 64 in steps of 2. */
  const sweep = [
    ...Array.from({ length: 196 }, (_, i) => 0.5 + i * 0.1),
    ...Array.from({ length: 22 }, (_, i) => 22 + i * 2),
  ];
  // Of a disc the mean square distance from its middle is half of the radius squared (polar integration).
  test.each([
    ['Defocus, even', (radius: number) => step('defocus', { radius })],
    ['Defocus by depth', (radius: number, side: number) => byDepth(radius, side)],
    ['Defocus by depth, near', (radius: number, side: number) => byDepth(-radius, side)],
  ] as const)('%s', (_, of) => {
    let last: number | undefined;
    for (const radius of sweep) {
      const side = sideFor(radius);
      const { square } = measured(of(radius, side)(lightAt(side, side >> 1, side >> 1)));
      workspace.clear();
      const ratio = Math.sqrt(square) / (radius / Math.SQRT2);
      expect(Math.abs(ratio - 1), `radius ${radius}`).toBeLessThan(0.02);
      if (last !== undefined) expect(Math.abs(ratio / last - 1), `radius ${radius}`).toBeLessThan(0.01);
      last = ratio;
    }
  });
});
