import { cosTurns, sinTurns } from '../math/elementary';

/** An aperture: no blades make a disc; `curvature` bends straight edges (1 is a circle), `rim` makes its edge brighter (0 to 1). */
export type BlurShape = { blades: number; rotate: number; curvature: number; rim: number };

/** Parts of a pixel each way by which the area of an edge is measured. */
const parts = 8;
/** Brightness of a place by how far out it is: 1 at the edge of the shape. */
const brightness = (size: number, rim: number) => 1 + 3 * rim * size ** 6;

/** How far out places lie in a shape with a circumradius of 1. */
function sizeIn({ blades, curvature, rotate }: BlurShape): (x: number, y: number) => number {
  const normals = Array.from({ length: blades }, (_, k) => {
    const turns = (k + 0.5) / blades + rotate / 360;
    return [cosTurns(turns), -sinTurns(turns)] as const;
  });
  const apothem = blades > 2 ? cosTurns(0.5 / blades) : 1;
  return (x, y) => {
    const away = Math.sqrt(x * x + y * y);
    if (blades < 3) return away;
    let flat = 0;
    for (const [nx, ny] of normals) flat = Math.max(flat, (x * nx + y * ny) / apothem);
    return flat + (away - flat) * curvature;
  };
}

/** The area of a shape with a circumradius of 1, and the variance of its light each way, by polar integration. */
function measured(sizeOf: (x: number, y: number) => number, rim: number) {
  const steps = 720;
  let [area, light, squares] = [0, 0, 0];
  for (let i = 0; i < steps; i++) {
    const r2 = 1 / sizeOf(cosTurns(i / steps), sinTurns(i / steps)) ** 2;
    area += (r2 * Math.PI) / steps;
    // ∫ ρ (1 + 3 rim (ρ/r)⁶) dρ and ∫ ρ³ (1 + …) dρ from 0 to r.
    light += r2 * (1 / 2 + (3 / 8) * rim);
    squares += r2 * r2 * (1 / 4 + (3 / 10) * rim);
  }
  return { area, variance: squares / light / 2 };
}

/** A shape of a circumradius in pixels as weights of sum 1: each pixel has the area that it covers. And the variance of them each way. */
function weighed(sizeOf: (x: number, y: number) => number, rim: number, circum: number) {
  const half = Math.max(0, Math.ceil(circum * 1.001 - 0.5));
  const side = 2 * half + 1;
  const weights = new Float32Array(side * side);
  let [sum, squares] = [0, 0];
  for (let y = -half; y <= half; y++)
    for (let x = -half; x <= half; x++) {
      let weight = 0;
      for (let j = 0; j < parts; j++)
        for (let i = 0; i < parts; i++) {
          const u = (x + (i + 0.5) / parts - 0.5) / circum;
          const v = (y + (j + 0.5) / parts - 0.5) / circum;
          const size = sizeOf(u, v);
          if (size <= 1) weight += brightness(size, rim);
        }
      weights[(y + half) * side + x + half] = weight;
      sum += weight;
      squares += weight * (x * x + y * y);
    }
  if (sum === 0) return { side: 1, weights: Float32Array.of(1), variance: 0 };
  return { side, weights: weights.map((w) => w / sum), variance: squares / sum / 2 };
}

/**
 * The aperture as a square of weights of sum 1, `side` pixels a side. The radius is that of a circle of the same area, so that a shape of blades blurs as
 * much as a disc. The variance of the weights is that of the shape itself, r²/4 each way of a disc: what the width of a pixel would add (1/12) is
 * taken off, so that a small blur is no wider than it says, and grows evenly.
 */
export function blurKernel(shape: BlurShape, radius: number): { side: number; weights: Float32Array } {
  const sizeOf = sizeIn(shape);
  const { area, variance } = measured(sizeOf, shape.rim);
  const whole = radius * Math.sqrt(Math.PI / area);
  const wanted = variance * whole * whole;
  // Of a larger shape the pixel's variance comes off at once; of a small one the weights grow by steps, and are looked for.
  if (radius > 12) return weighed(sizeOf, shape.rim, Math.sqrt(whole * whole - 1 / 12 / variance));
  const at = (circum: number) => weighed(sizeOf, shape.rim, circum);
  let [less, more] = [whole * 0.5, whole * 2];
  let [under, over] = [at(less), at(more)];
  // Close enough together: what is left between the two is mixed.
  for (let i = 0; i < 9; i++) {
    const middle = (less + more) / 2;
    const tried = at(middle);
    if (tried.variance < wanted) [less, under] = [middle, tried];
    else [more, over] = [middle, tried];
  }
  return mixed(under, over, wanted);
}

type Weighed = ReturnType<typeof weighed>;

/** Between two squares of weights, so that the variance is the one that is wanted. */
function mixed(under: Weighed, over: Weighed, wanted: number): { side: number; weights: Float32Array } {
  const { side } = over;
  const share =
    over.variance > under.variance ? (wanted - under.variance) / (over.variance - under.variance) : 0;
  const inset = (side - under.side) / 2;
  const weights = over.weights.map((w) => w * share);
  under.weights.forEach((w, i) => {
    const [x, y] = [i % under.side, Math.floor(i / under.side)];
    weights[(y + inset) * side + x + inset] += w * (1 - share);
  });
  return { side, weights };
}
