import { cosTurns, exp, ln, sinTurns } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { like, onPixels } from './point';
import type { Workspace } from './workspace';

/**
 * Programs of colour: what happens to each pixel by itself, as a list of operations. They work on colour that is not multiplied by its alpha, in scene
 * light; several steps one after the other are one program, and a lookup table is what a program makes of a cube of colours.
 */
export type ColourOp =
  /** Three rows of four numbers: red, green, blue and 1. */
  | { type: 'matrix'; rows: readonly number[] }
  /** Each channel to its power; below 0 it stays, or all is held to 0 … 1 before. */
  | { type: 'power'; exponents: Rgb; clamps: boolean }
  /** Light by curves over stops, a curve a channel; `curves` are as of `stopsTable`. */
  | { type: 'curves'; curves: readonly [StopsTable, StopsTable, StopsTable] }
  /** All channels by the factor of a curve on their luminance: hue and saturation stay. */
  | { type: 'luminance-curve'; curve: StopsTable }
  /** Distance from luminance by a factor over stops of luminance. */
  | { type: 'saturation-curve'; curve: StopsTable }
  /** Hue turned by degrees and chroma times a factor, in OKLab. */
  | { type: 'oklch'; hue: number; chroma: number }
  | { type: 'tone'; curve: ToneCurve; white: number; byLuminance: number }
  /** Codes from light, or back. */
  | { type: 'transfer'; by: Transfer; back: boolean }
  | { type: 'table-1d'; size: number; table: Float32Array; low: Rgb; high: Rgb }
  | { type: 'table-3d'; size: number; table: Float32Array; low: Rgb; high: Rgb }
  /** Between two steps: multiplied by alpha and divided by it, as the picture between them is. */
  | { type: 'between' };

/** Each channel times a number, and another one added. */
export const scaled = (by: Rgb, plus: Rgb = [0, 0, 0]): ColourOp => ({
  type: 'matrix',
  rows: by.flatMap((v, row) => [0, 1, 2].map((c) => (c === row ? v : 0)).concat(plus[row])),
});

/** Numbers at every `perStop`th of a stop from `first` on, and how the last goes on. */
export type StopsTable = { first: number; perStop: number; values: Float64Array; slope: number };
/** Published curves: E. Reinhard, M. Stark, P. Shirley and J. Ferwerda 2002, extended by a white; J. Hable 2010. */
export const toneCurves = ['reinhard', 'hable'] as const;
export type ToneCurve = (typeof toneCurves)[number];
/** IEC 61966-2-1; or stops from mid-grey, of which `low` is 0 and `low + span` is 1. */
export type Transfer = { type: 'srgb' } | { type: 'stops'; low: number; span: number };

const codes = {
  matrix: 1,
  power: 2,
  between: 3,
  curves: 4,
  'luminance-curve': 5,
  'saturation-curve': 6,
  oklch: 7,
  tone: 8,
  transfer: 9,
  'table-1d': 10,
  'table-3d': 11,
} as const;

const grey = 0.18;
const pow2 = (x: number) => exp(x * ln(2));
/** Hable's curve with the numbers of his talk, of twice the light: exposure bias 2. */
export function hable(light: number): number {
  const [a, b, c, d, e, f] = [0.15, 0.5, 0.1, 0.2, 0.02, 0.3];
  const x = 2 * light;
  return (x * (a * x + c * b) + d * e) / (x * (a * x + b) + d * f) - e / f;
}

/** A table with its last entry once more: kernels read two at a time. */
const padded = (values: ArrayLike<number>): number[] => [...Array.from(values), values[values.length - 1]];

/** The parameters of an operation, and its table. */
function encoded(op: ColourOp): { parameters: readonly number[]; table?: ArrayLike<number>; size?: number } {
  switch (op.type) {
    case 'matrix':
      return { parameters: op.rows };
    case 'power':
      return { parameters: [...op.exponents, op.clamps ? 1 : 0] };
    case 'between':
      return { parameters: [] };
    case 'curves': {
      const [{ first, perStop, values }] = op.curves;
      return {
        parameters: [first, perStop, grey * pow2(first), ...op.curves.map((c) => c.slope)],
        table: op.curves.flatMap((c) => padded(c.values)),
        size: values.length,
      };
    }
    case 'luminance-curve':
    case 'saturation-curve': {
      const { first, perStop, values, slope } = op.curve;
      return {
        parameters: [first, perStop, grey * pow2(first), slope],
        table: padded(values),
        size: values.length,
      };
    }
    case 'oklch': {
      const turns = op.hue / 360;
      return { parameters: [cosTurns(turns) * op.chroma, sinTurns(turns) * op.chroma] };
    }
    case 'tone':
      return {
        parameters: [
          toneCurves.indexOf(op.curve),
          1 / (op.white * op.white),
          1 / hable(op.white),
          op.byLuminance,
        ],
      };
    case 'transfer':
      return {
        parameters:
          op.by.type === 'srgb' ? [1, op.back ? 1 : 0, 0, 1] : [2, op.back ? 1 : 0, op.by.low, op.by.span],
      };
    case 'table-1d':
    case 'table-3d': {
      const scale = op.low.map((low, c) => 1 / (op.high[c] - low));
      const rows = [0, 1, 2].map((c) => op.table.subarray(c * op.size, (c + 1) * op.size));
      return {
        parameters: [...op.low, ...scale],
        table: op.type === 'table-1d' ? rows.flatMap(padded) : op.table,
        size: op.size,
      };
    }
  }
}

const recordFloats = 20;

/**
 * A picture through a program of colour; alpha stays. Where alpha is 0 the colour is light without coverage and is worked on as it is. Error of the
 * logarithms and powers of 2 below 3e-6 of the value.
 */
export function runColour(workspace: Workspace, picture: Picture, program: readonly ColourOp[]): Picture {
  const records = new Float32Array(program.length * recordFloats);
  const ints = new Int32Array(records.buffer);
  const taken: number[] = [];
  for (const [i, op] of program.entries()) {
    const { parameters, table, size } = encoded(op);
    const at = i * recordFloats;
    ints[at] = codes[op.type];
    records.set(parameters, at + 1);
    if (!table) continue;
    const address = workspace.floats(table);
    taken.push(address);
    ints[at + 17] = address;
    ints[at + 18] = size ?? 0;
  }
  const address = workspace.bytes(records.byteLength);
  // Bit for bit: an address read as a float may be a NaN that changes on its way.
  new Int32Array(workspace.runtime.arena.memory.buffer, address, ints.length).set(ints);
  const out = onPixels(workspace, 'colourProgram', like(workspace, picture), {
    from: picture.at,
    program: address,
    count: program.length,
  });
  for (const at of [...taken, address]) workspace.drop(at);
  return out;
}
