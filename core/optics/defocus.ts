import { convolve, keptSpectrum, squareSpectrum } from '../kernels/fourier';
import { confusion, convolvedSmall, enlarged, layPart, radiusPart, wholePart } from '../kernels/lens';
import { copy } from '../kernels/point';
import { shrink } from '../kernels/sample';
import type { Workspace } from '../kernels/workspace';
import { cosTurns, sinTurns } from '../math/elementary';
import { kept } from '../math/kept';
import type { Picture } from '../picture/picture';

/** Light that is out of focus: every point becomes the shape of the aperture. */

/** An aperture: no blades make a disc; `curvature` bends straight edges (1 is a circle), `rim` makes its edge brighter (0 to 1). */
export type BlurShape = { blades: number; rotate: number; curvature: number; rim: number };

/** Parts of a pixel each way by which the area of an edge is measured. */
const parts = 8;

/**
 * The aperture as a square of weights of sum 1, `side` pixels a side: each pixel has the area that it covers. The radius is that of a circle of the same
 * area, so that a shape of blades blurs as much as a disc.
 */
export function blurKernel(shape: BlurShape, radius: number): { side: number; weights: Float32Array } {
  const { blades, curvature, rim } = shape;
  const normals = Array.from({ length: blades }, (_, k) => {
    const turns = (k + 0.5) / blades + shape.rotate / 360;
    return [cosTurns(turns), -sinTurns(turns)] as const;
  });
  const apothem = blades > 2 ? cosTurns(0.5 / blades) : 1;
  /** 1 at the edge of the aperture. */
  const sizeOf = (x: number, y: number) => {
    const away = Math.sqrt(x * x + y * y);
    if (blades < 3) return away;
    let flat = 0;
    for (const [nx, ny] of normals) flat = Math.max(flat, (x * nx + y * ny) / apothem);
    return flat + (away - flat) * curvature;
  };
  // The area of the shape with a circumradius of 1, by polar integration.
  const steps = 720;
  let area = 0;
  for (let i = 0; i < steps; i++) {
    const r = 1 / sizeOf(cosTurns(i / steps), sinTurns(i / steps));
    area += (r * r * Math.PI) / steps;
  }
  const circum = radius * Math.sqrt(Math.PI / area);
  const half = Math.max(0, Math.ceil(circum * 1.001 - 0.5));
  const side = 2 * half + 1;
  const weights = new Float32Array(side * side);
  let sum = 0;
  for (let y = -half; y <= half; y++)
    for (let x = -half; x <= half; x++) {
      let weight = 0;
      for (let j = 0; j < parts; j++)
        for (let i = 0; i < parts; i++) {
          const u = (x + (i + 0.5) / parts - 0.5) / circum;
          const v = (y + (j + 0.5) / parts - 0.5) / circum;
          const size = sizeOf(u, v);
          if (size <= 1) weight += 1 + 3 * rim * size ** 6;
        }
      weights[(y + half) * side + x + half] = weight;
      sum += weight;
    }
  if (sum === 0) return { side: 1, weights: Float32Array.of(1) };
  return { side, weights: weights.map((w) => w / sum) };
}

type Kernel = ReturnType<typeof blurKernel>;
/** Shapes that were made lately: the next frame asks for the same ones. */
const made = kept(32, (key): Kernel => blurKernel(...(JSON.parse(key) as [BlurShape, number])));
const keptKernel = (shape: BlurShape, radius: number): Kernel => made(JSON.stringify([shape, radius]));

/** Up to this radius a sum over the shape is faster than transforms. */
const smallRadius = 3.6;

/** What of a shape lies inside the picture where it is cut off at the borders, as a factor that makes up for it: as if the picture went on as it is there. */
function continueBorders({ width, height, data }: Picture, { side, weights }: Kernel) {
  // Sums over the upper left parts of the shape.
  const sums = new Float64Array((side + 1) * (side + 1));
  for (let y = 0; y < side; y++)
    for (let x = 0, row = 0; x < side; x++) {
      row += weights[y * side + x];
      sums[(y + 1) * (side + 1) + x + 1] = sums[y * (side + 1) + x + 1] + row;
    }
  const half = side >> 1;
  for (let y = 0; y < height; y++) {
    const isEdge = y < half || y >= height - half;
    for (let x = 0; x < width; x++) {
      if (!isEdge && x === half && width > 2 * half) x = width - half;
      // A light to the right of a pixel comes to it by what lies left in the shape.
      const [x0, x1] = [Math.max(0, half - (width - 1 - x)), Math.min(side, half + x + 1)];
      const [y0, y1] = [Math.max(0, half - (height - 1 - y)), Math.min(side, half + y + 1)];
      const at = (v: number, u: number) => sums[v * (side + 1) + u];
      const inside = at(y1, x1) - at(y0, x1) - at(y1, x0) + at(y0, x0);
      if (inside < 1e-3) continue;
      const i = (y * width + x) * 4;
      for (let c = 0; c < 4; c++) data[i + c] /= inside;
      data[i + 3] = Math.min(1, data[i + 3]);
    }
  }
}

/** A picture of which every point is the shape of an aperture of a radius in pixels; beyond the borders it goes on as it is there. Alpha goes along. */
export function defocused(workspace: Workspace, picture: Picture, shape: BlurShape, radius: number): Picture {
  const { width, height } = picture;
  if (radius < 0.5) return copy(workspace, picture);
  if (radius <= smallRadius) {
    const kernel = keptKernel(shape, radius);
    const out = convolvedSmall(workspace, picture, kernel.weights, kernel.side);
    continueBorders(out, kernel);
    return out;
  }
  const key = JSON.stringify(['defocus', shape, radius, width, height]);
  const spectrum = keptSpectrum(workspace.runtime, key, () =>
    squareSpectrum(workspace, keptKernel(shape, radius).weights, width, height),
  );
  const out = convolve(workspace, picture, spectrum);
  continueBorders(out, keptKernel(shape, radius));
  return out;
}

/**
 * Diameter of the circle of confusion on the sensor, in the unit of the focal length: |d − s|/d · f²/(N (s − f)) by the thin lens (S. F. Ray 2002, *Applied
 * Photographic Optics*), of a distance d with the lens focused on s, all in one unit.
 */
export const circleOfConfusion = (d: number, s: number, f: number, n: number): number =>
  (Math.abs(d - s) / d) * endlessConfusion(s, f, n);

/** The same of what is endlessly far. */
export const endlessConfusion = (s: number, f: number, n: number): number => (f * f) / (n * (s - f));

const isOpaque = ({ data }: Picture) => {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 1) return false;
  return true;
};

/** From these radii on a part is worked on at half and at a quarter of its size: what is finer than its shape is gone anyway. */
const [halvedFrom, quarteredFrom] = [3, 14];

/** A part as it is out of focus; one that is sharp as it is. */
function softened(workspace: Workspace, part: Picture, shape: BlurShape, radius: number): Picture {
  if (radius < 0.5) return part;
  if (radius < halvedFrom) return defocused(workspace, part, shape, radius);
  const scale = radius < quarteredFrom ? 0.5 : 0.25;
  const small = shrink(workspace, part, scale);
  const soft = defocused(workspace, small, shape, radius * scale);
  const out = enlarged(workspace, soft, part.width, part.height);
  for (const taken of [small, soft]) workspace.drop(taken);
  return out;
}

/** Radii that parts of a picture are blurred by: each about 1.7 times as large as the one before. */
function radiiUpTo(most: number): number[] {
  const radii = [0];
  for (let r = 1; r < most * 0.9; r *= 1.7) radii.push(r);
  if (most > 0.5) radii.push(most);
  return radii;
}

/** Which of the levels, from the largest down, any radius lies beside. */
function usedLevels(radii: Float32Array, levels: readonly number[]): boolean[] {
  const used = levels.map(() => false);
  for (const r of radii) {
    let i = 0;
    while (i < levels.length - 1 && levels[i + 1] >= r) i++;
    used[i] = true;
    if (i + 1 < levels.length && r < levels[i]) used[i + 1] = true;
  }
  return used;
}

/**
 * A picture out of focus by its depth: the radius of each pixel is `scale` · (1 − focus/depth), near ones below 0, no more than `most`. Parts of about one
 * radius are blurred each by itself and laid over each other from the far to the near: what is in focus is not bled over from behind, and what is near
 * spreads over it; behind an edge the far goes on as it is beside it.
 */
export function defocusedByDepth(
  workspace: Workspace,
  picture: Picture,
  depth: Picture,
  shape: BlurShape,
  lens: { focus: number; scale: number; most: number },
): Picture {
  const radii = confusion(workspace, depth, lens);
  let [least, most] = [0, 0];
  for (const r of radii.data) {
    if (r < least) least = r;
    if (r > most) most = r;
  }
  const levels = [
    ...radiiUpTo(most).reverse(),
    ...radiiUpTo(-least)
      .slice(1)
      .map((r) => -r),
  ];
  const { width, height } = picture;
  const opaque = isOpaque(picture);
  const onto = { sum: workspace.blank(width, height), sums: workspace.blank(width, height) };
  const used = usedLevels(radii.data, levels);
  for (const [i, here] of levels.entries()) {
    if (!used[i]) continue;
    const [above, below] = [levels[i - 1] ?? here, levels[i + 1] ?? here];
    const sharp = radiusPart(workspace, picture, radii, [below, here, above], opaque);
    const soft = {
      part: softened(workspace, sharp.part, shape, Math.abs(here)),
      cover: sharp.cover && softened(workspace, sharp.cover, shape, Math.abs(here)),
    };
    layPart(workspace, onto, soft);
    for (const taken of [sharp.part, sharp.cover, soft.part, soft.cover]) if (taken) workspace.drop(taken);
  }
  const out = wholePart(workspace, onto, picture);
  for (const taken of [onto.sum, onto.sums, radii]) workspace.drop(taken);
  return out;
}
