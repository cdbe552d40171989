import type { ColourOp } from '../kernels/colour';
import { kept } from '../math/kept';
import { type Cube, unpackCube } from './cube';

/** Lookup tables as operations on colour. */

export type Table = Extract<ColourOp, { type: 'table-1d' | 'table-3d' }>;

/** The table as kernels read it: three rows of one channel each, or colours in fours. */
function tableOf({ dimensions, size, low, high, values }: Cube): Table {
  const count = values.length / 3;
  const table = new Float32Array(dimensions === 1 ? values.length : count * 4);
  for (let i = 0; i < count; i++)
    for (let c = 0; c < 3; c++) table[dimensions === 1 ? c * size + i : i * 4 + c] = values[i * 3 + c];
  return { type: dimensions === 1 ? 'table-1d' : 'table-3d', size, table, low, high };
}

/** The table of a packed text; undefined where it is none. Those that were read lately are kept: the same one goes for every frame. */
export const keptTable = kept(6, (text): Table | undefined => {
  const cube = unpackCube(text);
  return cube && tableOf(cube);
});
