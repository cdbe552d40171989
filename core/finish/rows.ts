import type { Finish } from './finish';
import { eachPoint } from './graph';

/**
 * The board's row of every strand (its head) and step, by id. Heads stand at row 0, but for those that are split off another
 * strand: they, like every step, stand below every place they tap, so that links run sideways or down.
 */
export function rowsOf(doc: Finish): Map<string, number> {
  const rows = new Map<string, number>();
  eachPoint(doc, (strand, index, from) => {
    const idOf = (s: typeof strand, i: number) => (i === 0 ? s.id : s.steps[i - 1].id);
    const above = index > 0 ? [rows.get(idOf(strand, index - 1))!] : [];
    const taken = from.map((p) => rows.get(idOf(p.strand, p.index))!);
    rows.set(idOf(strand, index), Math.max(-1, ...above, ...taken) + 1);
  });
  return rows;
}
