import { type Finish, strandOrder } from './finish';

/**
 * The board's row of every strand (its head) and step, by id. Heads stand at row 0; a step stands below the step
 * before it and below every place it taps, so that links run sideways or down.
 */
export function rowsOf(doc: Finish): Map<string, number> {
  const rows = new Map<string, number>();
  const end = new Map<string, number>();
  for (const id of strandOrder(doc)) {
    const strand = doc.strands.find((s) => s.id === id)!;
    rows.set(id, 0);
    let row = 0;
    for (const step of strand.steps) {
      row++;
      for (const tap of Object.values(step.slots)) {
        const tapped =
          tap.after === 'head' ? 0 : tap.after === 'end' ? end.get(tap.strand) : rows.get(tap.after);
        row = Math.max(row, (tapped ?? 0) + 1);
      }
      rows.set(step.id, row);
    }
    end.set(id, row);
  }
  return rows;
}
