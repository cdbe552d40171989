import { cosTurns, exp, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import type { Workspace } from './workspace';

/** Border handling: black outside, or the border's pixels continued. */
export type Edge = 'black' | 'continued';

const rowPiece = 16;
const columnPiece = 32;
/** From here on the recursive filter is faster, and its error is below what float halves can show. */
export const recursiveFrom = 12;
/** How far a Gaussian looks, in pixels: exact ones are cut off at 4 σ; what a recursive one has beyond 4.5 σ is 7·10⁻⁶ of its light. */
export const gaussianReach = (sigma: number): number => (sigma < recursiveFrom ? 4 : 4.5) * sigma + 2;

/**
 * Half of a sampled Gaussian of standard deviation `sigma` pixels, from its centre outward to 4 σ, of sum 1 over
 * both halves. The light beyond 4 σ, 6e-5 of it, is cut off.
 */
export function gaussianTaps(sigma: number): Float64Array {
  const reach = sigma > 0 ? Math.ceil(4 * sigma) : 0;
  const taps = Float64Array.from({ length: reach + 1 }, (_, i) =>
    i === 0 ? 1 : exp(-(i * i) / (2 * sigma * sigma)),
  );
  let sum = taps[0];
  for (let i = 1; i <= reach; i++) sum += 2 * taps[i];
  return taps.map((t) => t / sum);
}

/** A picture blurred by an exact separable Gaussian; error that of float32 sums. */
export function exactGaussian(
  workspace: Workspace,
  from: Picture,
  sigma: number,
  edge: Edge = 'black',
): Picture {
  const { width: w, height: h } = from;
  const values = gaussianTaps(sigma);
  const taps = workspace.floats(values);
  const across = workspace.picture(w, h);
  const out = workspace.picture(w, h);
  const args = {
    width: w,
    height: h,
    taps,
    reach: values.length - 1,
    edge: edge === 'black' ? 0 : 1,
  };
  workspace.runtime.run('gaussianRows', h, rowPiece, { out: across.at, from: from.at, ...args });
  workspace.runtime.run('gaussianColumns', h, Math.max(rowPiece, values.length), {
    out: out.at,
    from: across.at,
    ...args,
  });
  workspace.drop(across);
  workspace.drop(taps);
  return out;
}

/** The widest blur whose rows of one tile fit a thread's scratch and its cache. */
const narrowest = 48;
const fusedPiece = 64;

/**
 * Blurs `from` by half a symmetric kernel (`taps`, from its centre outward) both ways, black outside, times `weight`, into `to`; or adds it
 * there. Narrow kernels, up to 48 taps to a side, go through memory once; for wider ones use `recursiveGaussian`.
 */
export function blurInto(
  workspace: Workspace,
  to: Picture,
  from: Picture,
  taps: Float64Array,
  weight: number,
  adds: boolean,
) {
  const { width: w, height: h } = from;
  const reach = taps.length - 1;
  if (reach > narrowest)
    throw new RangeError(`A blur of ${reach} pixels to a side is too wide for one pass.`);
  const address = workspace.floats(taps);
  workspace.runtime.run('blurInto', h, fusedPiece, {
    out: to.at,
    from: from.at,
    width: w,
    height: h,
    taps: address,
    reach,
    weight,
    adds: adds ? 1 : 0,
  });
  workspace.drop(address);
}

/**
 * Coefficients of a fourth-order recursive Gaussian (Deriche 1993, *Recursively implementing the Gaussian and its
 * derivatives*, INRIA RR-1893) as two parallel second-order sections each way: as one filter of higher order in
 * float32 it breaks. Error below 6e-4 of the peak. Scaled to a gain of 1.
 */
export function recursiveCoefficients(sigma: number): Float64Array {
  const amplitudes = [
    [0.84, 1.8675],
    [-0.34015, -0.1299],
  ];
  const exponents = [
    [1.783, 0.6318],
    [1.723, 1.997],
  ];
  const sections = amplitudes.map(([c, d], i) => {
    const [decay, turn] = exponents[i].map((v) => v / sigma);
    const r = exp(-decay);
    const [re, im] = [r * cosTurns(turn / (2 * Math.PI)), -r * sinTurns(turn / (2 * Math.PI))];
    return { b0: 2 * c, b1: -2 * (c * re + d * im), a1: -2 * re, a2: r * r };
  });
  let gain = 0;
  for (const s of sections) gain += (2 * (s.b0 + s.b1)) / (1 + s.a1 + s.a2) - s.b0;
  const out = sections.flatMap((s) => {
    // The poles as the kernel will have them, or the gain is off by 1e-4.
    const [a1, a2] = [Math.fround(s.a1), Math.fround(s.a2)];
    const [b0, b1] = [s.b0 / gain, s.b1 / gain];
    const [c1, c2] = [b1 - b0 * a1, -b0 * a2];
    const constant = 1 + a1 + a2;
    return [b0, b1, a1, a2, c1, c2, (b0 + b1) / constant, (c1 + c2) / constant];
  });
  return Float64Array.from(out);
}

/** A picture blurred by a recursive Gaussian: its cost does not grow with σ. For σ of 2 pixels or more. */
export function recursiveGaussian(
  workspace: Workspace,
  from: Picture,
  sigma: number,
  edge: Edge = 'black',
): Picture {
  const { width: w, height: h } = from;
  const cf = workspace.floats(recursiveCoefficients(sigma));
  const across = workspace.picture(w, h);
  const out = workspace.picture(w, h);
  const outside = edge === 'black' ? 0 : 1;
  workspace.runtime.run('recursiveRows', h, rowPiece, {
    out: across.at,
    from: from.at,
    width: w,
    height: h,
    coefficients: cf,
    edge: outside,
  });
  workspace.runtime.run('recursiveColumns', w, columnPiece, {
    out: out.at,
    from: across.at,
    width: w,
    height: h,
    coefficients: cf,
    edge: outside,
  });
  workspace.drop(across);
  workspace.drop(cf);
  return out;
}

/** A picture blurred by a Gaussian of `sigma` pixels: exact where narrow, recursive where wide. */
export function gaussian(workspace: Workspace, from: Picture, sigma: number, edge: Edge = 'black'): Picture {
  if (sigma >= recursiveFrom) return recursiveGaussian(workspace, from, sigma, edge);
  if (edge === 'continued') return exactGaussian(workspace, from, sigma, edge);
  const out = workspace.picture(from.width, from.height);
  blurInto(workspace, out, from, gaussianTaps(sigma), 1, false);
  return out;
}

/**
 * As `gaussian`, of a plane. Blurs run on four numbers at once: along rows these are four rows woven together, down columns four
 * neighbours.
 */
export function gaussianPlane(
  workspace: Workspace,
  from: Picture,
  sigma: number,
  edge: Edge = 'black',
): Picture {
  const { width: w, height: h } = from;
  const stride = (w + 3) & ~3;
  const fours = Math.ceil(h / 4);
  const woven = workspace.picture(w, fours);
  workspace.runtime.run('weave', fours, rowPiece, { out: woven.at, from: from.at, width: w, height: h });
  const across = workspace.picture(w, fours);
  const wide = sigma >= recursiveFrom;
  const values = wide ? recursiveCoefficients(sigma) : gaussianTaps(sigma);
  const table = workspace.floats(values);
  const outside = edge === 'black' ? 0 : 1;
  const recursive = { coefficients: table, edge: outside };
  const exact = { taps: table, reach: values.length - 1, edge: outside };
  const rows = { out: across.at, from: woven.at, width: w, height: fours };
  if (wide) workspace.runtime.run('recursiveRows', fours, rowPiece, { ...rows, ...recursive });
  else workspace.runtime.run('gaussianRows', fours, rowPiece, { ...rows, ...exact });
  const plane = workspace.picture(stride / 4, h);
  workspace.runtime.run('unweave', fours, rowPiece, {
    out: plane.at,
    from: across.at,
    width: w,
    height: h,
    stride,
  });
  const blurred = workspace.picture(stride / 4, h);
  const columns = { out: blurred.at, from: plane.at, width: stride / 4, height: h };
  if (wide) workspace.runtime.run('recursiveColumns', stride / 4, columnPiece, { ...columns, ...recursive });
  else
    workspace.runtime.run('gaussianColumns', h, Math.max(rowPiece, values.length), { ...columns, ...exact });
  for (const taken of [woven, across, plane, table]) workspace.drop(taken);
  // The same memory, read as a plane.
  if (stride === w) return { ...blurred, width: w, channels: 1 };
  const out = workspace.picture(w, h, 1);
  for (let y = 0; y < h; y++) out.data.set(blurred.data.subarray(y * stride, y * stride + w), y * w);
  workspace.drop(blurred);
  return out;
}
