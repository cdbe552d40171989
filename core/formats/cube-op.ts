import type { ColourOp } from '../kernels/colour';
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

/** Tables that were read lately: the same one goes for every frame. */
const kept = new Map<string, Table | undefined>();
const mostKept = 6;
/** The table of a packed text; undefined where it is none. */
export function keptTable(text: string): Table | undefined {
  if (!kept.has(text)) {
    const [oldest] = kept.keys();
    if (kept.size >= mostKept) kept.delete(oldest);
    const cube = unpackCube(text);
    kept.set(text, cube && tableOf(cube));
  }
  return kept.get(text);
}
