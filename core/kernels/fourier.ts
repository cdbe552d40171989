import type { Picture } from '../picture/picture';
import { type Desk, openDesk } from './desk';
import { cosTurns, sinTurns } from './elementary';

/** Radices of a length of the form 4ᵃ 2ᵇ 3ᶜ 5ᵈ; undefined for others. */
function radices(n: number): number[] | undefined {
  const found: number[] = [];
  for (const r of [4, 2, 3, 5]) for (; n % r === 0; n /= r) found.push(r);
  return n === 1 ? found : undefined;
}

/** The least length of at least `n` that the transform takes: a multiple of four, without primes past 5. */
export function transformLength(n: number): number {
  let m = Math.ceil(Math.max(n, 4) / 4) * 4;
  while (!radices(m)) m += 4;
  return m;
}

type Plan = { plan: number; twiddles: number };

function planFor(desk: Desk, n: number): Plan {
  const stages = radices(n)!;
  const twiddles: number[] = [];
  let length = n;
  for (const r of stages) {
    for (let p = 0; p < length / r; p++) {
      for (let k = 1; k < r; k++) twiddles.push(cosTurns((-p * k) / length), sinTurns((-p * k) / length));
    }
    length /= r;
  }
  return { plan: desk.ints([n, stages.length, ...stages]), twiddles: desk.floats(twiddles) };
}

/** The transform of a real kernel, kept for pictures of one size. Its desk holds its memory: `drop` gives it back. */
export type Spectrum = {
  wide: number;
  high: number;
  rows: Plan;
  columns: Plan;
  at: number;
  centre: { x: number; y: number };
  drop(): void;
};

const rowPiece = 8;
const columnPiece = 8;

/**
 * The spectrum of `kernel` (a plane; its centre at half its size, rounded down) for pictures of `width` by `height`.
 * The transforms are long enough that nothing wraps around.
 */
export function kernelSpectrum(
  machine: Desk['machine'],
  kernel: Picture,
  width: number,
  height: number,
): Spectrum {
  const desk = openDesk(machine);
  const wide = transformLength(width + kernel.width - 1);
  const high = transformLength(height + kernel.height - 1);
  const rows = planFor(desk, wide);
  const columns = planFor(desk, high);
  const at = desk.bytes(wide * high * 8);
  const scratch = openDesk(machine);
  try {
    const real = scratch.blank(kernel.width, kernel.height);
    for (let i = 0; i < kernel.data.length; i++) real.data[i * 4] = kernel.data[i];
    const work = scratch.picture(wide, kernel.height);
    machine.run(
      'fftRows',
      kernel.height,
      rowPiece,
      work.at,
      wide,
      real.at,
      kernel.width,
      rows.plan,
      rows.twiddles,
    );
    machine.run(
      'fftColumns',
      wide,
      columnPiece,
      work.at,
      wide,
      kernel.height,
      0,
      columns.plan,
      columns.twiddles,
      at,
      0,
    );
  } finally {
    scratch.clear();
  }
  const centre = { x: kernel.width >> 1, y: kernel.height >> 1 };
  return { wide, high, rows, columns, at, centre, drop: () => desk.clear() };
}

/**
 * A picture convolved with the kernel of a spectrum made for its size, black outside. All four channels. Error about
 * 1e-6 of the largest value, that of float32 transforms.
 */
export function convolve(desk: Desk, from: Picture, s: Spectrum): Picture {
  const { width: w, height: h } = from;
  const { machine } = desk;
  const back = s.centre.y + h;
  const work = desk.picture(s.wide, back);
  machine.run('fftRows', h, rowPiece, work.at, s.wide, from.at, w, s.rows.plan, s.rows.twiddles);
  machine.run(
    'fftColumns',
    s.wide,
    columnPiece,
    work.at,
    s.wide,
    h,
    back,
    s.columns.plan,
    s.columns.twiddles,
    s.at,
    1,
  );
  const out = desk.picture(w, h);
  const scale = 1 / (s.wide * s.high);
  const { plan, twiddles } = s.rows;
  machine.run(
    'fftRowsBack',
    h,
    rowPiece,
    out.at,
    work.at,
    s.wide,
    w,
    s.centre.x,
    s.centre.y,
    plan,
    twiddles,
    scale,
  );
  desk.drop(work);
  return out;
}

/** `convolve` with a kernel used once. */
export function convolveWith(desk: Desk, from: Picture, kernel: Picture): Picture {
  const spectrum = kernelSpectrum(desk.machine, kernel, from.width, from.height);
  try {
    return convolve(desk, from, spectrum);
  } finally {
    spectrum.drop();
  }
}

/** The spectrum of a square of numbers. */
export function squareSpectrum(desk: Desk, numbers: Float32Array, width: number, height: number): Spectrum {
  const side = Math.round(Math.sqrt(numbers.length));
  const kernel = desk.picture(side, side, 1);
  kernel.data.set(numbers);
  try {
    return kernelSpectrum(desk.machine, kernel, width, height);
  } finally {
    desk.drop(kernel);
  }
}

/** Spectra that were made last, by what they are of: the next frame asks for the same ones. Three a machine: of red, green and blue. */
const kept = new WeakMap<Desk['machine'], Map<string, Spectrum>>();
const mostKept = 3;

/** The spectrum called `key`, made if it is not there. */
export function keptSpectrum(machine: Desk['machine'], key: string, make: () => Spectrum): Spectrum {
  const known = kept.get(machine) ?? new Map<string, Spectrum>();
  kept.set(machine, known);
  const there = known.get(key);
  if (there) return there;
  while (known.size >= mostKept) {
    const [oldest] = known.keys();
    known.get(oldest)!.drop();
    known.delete(oldest);
  }
  const made = make();
  known.set(key, made);
  return made;
}

/** Gives the memory of all kept spectra back; true if there was any. */
export function forgetSpectra(machine: Desk['machine']): boolean {
  for (const spectrum of kept.get(machine)?.values() ?? []) spectrum.drop();
  return kept.delete(machine);
}
