import { encodeSrgb } from '../../colour/srgb';
import { keptTable, type Table } from '../../formats/cube-op';
import type { ColourOp, Transfer } from '../../kernels/colour';
import { defineColourStep } from '../shared/colour-step';
import { number } from '../shared/numbers';

const isUnit = ({ low, high }: Table) => [...low, ...high].every((v) => v >= 0 && v <= 1);

/** sRGB codes of light from 0 to 1, off by 2e-5 at the most: what a table of the unit cube is asked for, held to its ends. */
const shaperSize = 4096;
const shaper = Float32Array.from({ length: shaperSize }, (_, i) => encodeSrgb(i / (shaperSize - 1)));
const srgbShaper: ColourOp = {
  type: 'table-1d',
  size: shaperSize,
  table: Float32Array.from([...shaper, ...shaper, ...shaper]),
  low: [0, 0, 0],
  high: [1, 1, 1],
};

/** Codes that a table may be made for. */
export const tableSpaces = { srgb: 'sRGB codes', linear: 'Linear light', stops: 'Stops' } as const;
export type TableSpace = keyof typeof tableSpaces;

export const transferOf = (space: TableSpace, low: number, high: number): Transfer | undefined =>
  space === 'linear'
    ? undefined
    : space === 'srgb'
      ? { type: 'srgb' }
      : { type: 'stops', low, span: Math.max(0.01, high - low) };

/** How long the text of a packed table may be: a cube of 33 a side has 290,000 letters. */
const longest = 600_000;
const stop = (name: string, description: string, initial: number, which: 'input' | 'output') =>
  number('ratio', 'change', name, description, initial, {
    from: -30,
    to: 30,
    soft: [-14, 14],
    onlyIf: [which, 'stops'],
  });

export const lookupTable = defineColourStep({
  id: 'lookup-table',
  name: 'Lookup table',
  stage: 'finish',
  description:
    'A .cube file, of one or three dimensions, between four colours of the cube. Say which codes it was made for.',
  words: ['lut', 'cube', 'look', 'film', '3d', 'table', 'colour transform'],
  version: 1,
  editors: [{ kind: 'table', section: 'change', table: 'table', holds: ['table'] }],
  rare: ['inputLow', 'inputHigh', 'outputLow', 'outputHigh'],
  order: { place: 7, why: 'a table is made for graded light or for codes of a screen' },
  values: {
    table: {
      type: 'text',
      section: 'change',
      name: 'Table',
      description: 'The numbers of the file, packed.',
      default: '',
      longest,
    },
    input: {
      type: 'choice',
      section: 'change',
      name: 'Input',
      description: 'The codes that the table was made for. Light outside its domain is held to it.',
      options: tableSpaces,
      default: 'srgb',
    },
    inputLow: stop('Input from', 'Stops from mid-grey that are 0.', -8, 'input'),
    inputHigh: stop('Input to', 'Stops from mid-grey that are 1.', 8, 'input'),
    output: {
      type: 'choice',
      section: 'change',
      name: 'Output',
      description: 'The codes that the table gives.',
      options: tableSpaces,
      default: 'srgb',
    },
    outputLow: stop('Output from', 'Stops from mid-grey that 0 stands for.', -8, 'output'),
    outputHigh: stop('Output to', 'Stops from mid-grey that 1 stands for.', 8, 'output'),
  },
  neutral: (v) => keptTable(v.table) === undefined,
  program(v): ColourOp[] {
    const table = keptTable(v.table);
    if (!table) return [];
    const reads = transferOf(v.input as TableSpace, v.inputLow, v.inputHigh);
    const gives = transferOf(v.output as TableSpace, v.outputLow, v.outputHigh);
    return [
      ...(reads
        ? [
            v.input === 'srgb' && isUnit(table)
              ? srgbShaper
              : ({ type: 'transfer', by: reads, back: false } as const),
          ]
        : []),
      table,
      ...(gives ? [{ type: 'transfer', by: gives, back: true } as const] : []),
    ];
  },
});
