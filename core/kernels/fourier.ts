import { cosTurns, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { openWorkspace, type Workspace } from './workspace';

/** Radices of a length of the form 4ᵃ 2ᵇ 3ᶜ 5ᵈ; undefined for others. */
function radices(n: number): number[] | undefined {
  const found: number[] = [];
  for (const r of [4, 2, 3, 5]) for (; n % r === 0; n /= r) found.push(r);
  return n === 1 ? found : undefined;
}

/** The least length of at least `n` that the transform takes: a multiple of `of` (4 for rows, 2 for columns), without primes past 5. */
export function transformLength(n: number, of = 4): number {
  let m = Math.ceil(Math.max(n, 4) / of) * of;
  while (!radices(m)) m += of;
  return m;
}

type Plan = { plan: number; twiddles: number };

function planFor(workspace: Workspace, n: number): Plan {
  const stages = radices(n)!;
  const twiddles: number[] = [];
  let length = n;
  for (const r of stages) {
    for (let p = 0; p < length / r; p++) {
      for (let k = 1; k < r; k++) twiddles.push(cosTurns((-p * k) / length), sinTurns((-p * k) / length));
    }
    length /= r;
  }
  return { plan: workspace.ints([n, stages.length, ...stages]), twiddles: workspace.floats(twiddles) };
}

/**
 * The transform of a real kernel, or of three for red, green and blue, kept for pictures of one size. Its workspace holds its memory: `drop` gives it back.
 */
export type Spectrum = {
  wide: number;
  high: number;
  rows: Plan;
  columns: Plan;
  at: number;
  /** Size in bytes of the memory at `at`. */
  bytes: number;
  centre: { x: number; y: number };
  colours: boolean;
  drop(): void;
};

const rowPiece = 8;
const columnPiece = 8;

/** Columns are transformed, and kept as the spectrum (mode 0) or multiplied by it and brought back (mode 1). */
function columnsOf(
  runtime: Workspace['runtime'],
  work: number,
  high: number,
  back: number,
  s: Spectrum,
  mode: 0 | 1,
) {
  const { plan, twiddles } = s.columns;
  const given = { work, wide: s.wide, height: high, back, plan, twiddles, spectrum: s.at, mode };
  if (s.colours) runtime.run('fftColours', s.wide / 2, columnPiece / 2, given);
  else runtime.run('fftColumns', s.wide, columnPiece, given);
}

/**
 * The spectrum of `kernel` for pictures of `width` by `height`: a plane, or a picture whose red, green and blue are each its colour's kernel.
 * Its centre is at half its size, rounded down. What wraps around lands outside the picture: the transform is that much longer.
 */
export function kernelSpectrum(
  runtime: Workspace['runtime'],
  kernel: Picture,
  width: number,
  height: number,
): Spectrum {
  const workspace = openWorkspace(runtime);
  const centre = { x: kernel.width >> 1, y: kernel.height >> 1 };
  // Half a kernel to one side reaches the picture from outside, the other half lies past what is read back.
  const wide = transformLength(Math.max(width + centre.x, kernel.width));
  const high = transformLength(Math.max(height + centre.y, kernel.height), 2);
  const colours = kernel.channels === 4;
  const bytes = wide * high * (colours ? 24 : 8);
  const s: Spectrum = {
    wide,
    high,
    rows: planFor(workspace, wide),
    columns: planFor(workspace, high),
    at: workspace.bytes(bytes),
    bytes,
    centre,
    colours,
    drop: () => workspace.clear(),
  };
  const scratch = openWorkspace(runtime);
  try {
    const real = scratch.blank(kernel.width, kernel.height);
    for (let i = 0; i < kernel.width * kernel.height; i++) {
      if (colours) for (let c = 0; c < 3; c++) real.data[i * 4 + c] = kernel.data[i * 4 + c];
      else real.data[i * 4] = kernel.data[i];
    }
    const work = scratch.picture(wide, kernel.height);
    const { plan, twiddles } = s.rows;
    runtime.run('fftRows', kernel.height, rowPiece, {
      work: work.at,
      wide,
      from: real.at,
      width: kernel.width,
      plan,
      twiddles,
    });
    columnsOf(runtime, work.at, kernel.height, 0, s, 0);
  } finally {
    scratch.clear();
  }
  return s;
}

/**
 * A picture convolved with the kernel of a spectrum made for its size, black outside. All four channels; where the colours have kernels of
 * their own, alpha has that of blue. Error about 1e-6 of the largest value, that of float32 transforms.
 */
export function convolve(workspace: Workspace, from: Picture, s: Spectrum): Picture {
  const { width: w, height: h } = from;
  const { runtime } = workspace;
  const { plan, twiddles } = s.rows;
  const back = s.centre.y + h;
  const work = workspace.picture(s.wide, back);
  runtime.run('fftRows', h, rowPiece, {
    work: work.at,
    wide: s.wide,
    from: from.at,
    width: w,
    plan,
    twiddles,
  });
  columnsOf(runtime, work.at, h, back, s, 1);
  const out = workspace.picture(w, h);
  const scale = 1 / (s.wide * s.high);
  const { x, y } = s.centre;
  runtime.run('fftRowsBack', h, rowPiece, {
    out: out.at,
    work: work.at,
    wide: s.wide,
    width: w,
    x0: x,
    y0: y,
    plan,
    twiddles,
    scale,
  });
  workspace.drop(work);
  return out;
}

/** The spectrum of a square of numbers, or of three: for red, green and blue. */
export function squareSpectrum(
  workspace: Workspace,
  numbers: Float32Array | readonly Float32Array[],
  width: number,
  height: number,
): Spectrum {
  const planes = numbers instanceof Float32Array ? [numbers] : numbers;
  const side = Math.round(Math.sqrt(planes[0].length));
  const kernel = workspace.picture(side, side, planes.length === 1 ? 1 : 4);
  const { channels, data } = kernel;
  for (const [c, plane] of planes.entries())
    for (let i = 0; i < plane.length; i++) data[i * channels + c] = plane[i];
  try {
    return kernelSpectrum(workspace.runtime, kernel, width, height);
  } finally {
    workspace.drop(kernel);
  }
}

/** Spectra that were made last, by what they are of: the next frame asks for the same ones. */
const kept = new WeakMap<Workspace['runtime'], Map<string, Spectrum>>();
/** As many as fit in this; that of a frame of 1920 by 1080 with colours of its own takes 70 MB. */
const mostBytes = 160e6;

/** The spectrum called `key`, made if it is not there. */
export function keptSpectrum(runtime: Workspace['runtime'], key: string, make: () => Spectrum): Spectrum {
  const known = kept.get(runtime) ?? new Map<string, Spectrum>();
  kept.set(runtime, known);
  const there = known.get(key);
  if (there) return there;
  const made = make();
  let bytes = made.bytes;
  for (const s of known.values()) bytes += s.bytes;
  for (const [oldest, s] of known) {
    if (bytes <= mostBytes) break;
    bytes -= s.bytes;
    s.drop();
    known.delete(oldest);
  }
  known.set(key, made);
  return made;
}

/** Gives the memory of all kept spectra back; true if there was any. */
export function forgetSpectra(runtime: Workspace['runtime']): boolean {
  for (const spectrum of kept.get(runtime)?.values() ?? []) spectrum.drop();
  return kept.delete(runtime);
}
