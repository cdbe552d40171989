import { freeId } from '../finish/edit';
import { addStep } from '../finish/edits';
import type { Rule } from './advice';

const percent = (share: number) => (share < 0.0001 ? 'Some' : `${(share * 100).toPrecision(2)} % of`);

/** A render with negative pixels, as there are beside very bright ones: they become coloured specks, and spread in all that blurs. */
export const negativePixels: Rule = (finish, { negative }) =>
  finish.strands
    .filter(
      (s) =>
        (negative[s.id] ?? 0) > 0 &&
        !s.steps.some((t) => t.type === 'repair' && !t.bypass && t.values.negatives),
    )
    .map((s) => ({
      key: `negative-pixels/${s.id}`,
      at: s.id,
      title: `${percent(negative[s.id])} pixels of ${s.name} are negative`,
      remedy: 'They show as black or coloured specks. Repair replaces them by their neighbours.',
      fix: addStep(s.id, 0, 'repair', freeId(finish, 'repair')),
    }));
