import { type Finish, strandOrder } from './finish';

/**
 * The board's row of every strand (its head) and step, by id. Heads stand at row 0, but for those that are split off another
 * strand: they, like every step, stand below every place they tap, so that links run sideways or down.
 */
export function rowsOf(doc: Finish): Map<string, number> {
  const rows = new Map<string, number>();
  const end = new Map<string, number>();
  for (const id of strandOrder(doc)) {
    const strand = doc.strands.find((s) => s.id === id)!;
    const rowOf = ({ strand: other, after }: { strand: string; after: string }) =>
      (after === 'head' ? rows.get(other) : after === 'end' ? end.get(other) : rows.get(after)) ?? 0;
    let row = strand.head.type === 'tap' ? rowOf(strand.head) + 1 : 0;
    rows.set(id, row);
    for (const step of strand.steps) {
      row++;
      for (const tap of Object.values(step.slots)) row = Math.max(row, rowOf(tap) + 1);
      rows.set(step.id, row);
    }
    end.set(id, row);
  }
  return rows;
}
