import { freeId } from '../finish/edit';
import { addStep } from '../finish/edits';
import { findStep, stepName } from '../finish/finish';
import type { Rule } from './advice';

const percent = (share: number) => (share < 0.001 ? 'Below 0.1 %' : `${(share * 100).toFixed(1)} %`);

/** Values that are not finite, or of data not a number, reported at the first point of each strand that has them. */
export const brokenValues: Rule = (finish, { broken }) =>
  finish.strands.flatMap((s) => {
    const first = [s.id, ...s.steps.map((t) => t.id)].find((id) => (broken[id] ?? 0) > 0);
    if (!first) return [];
    const step = findStep(finish, first)?.step;
    if (s.kind === 'data')
      return [
        {
          key: `broken-values/${first}`,
          at: first,
          title: `${percent(broken[first])} of the numbers of ${s.name} are not a number`,
          remedy: 'Mist takes them as sky, keys as outside. Render the pass again.',
        },
      ];
    const where = step ? `after ${stepName(step)}` : `in the frame at the head of ${s.name}`;
    return [
      {
        key: `broken-values/${first}`,
        at: first,
        title: `${percent(broken[first])} of pixels are not finite ${where}`,
        remedy:
          'Light steps read them as 0, but they stay in the picture. Repair replaces them by their neighbours.',
        fix: addStep(s.id, step ? s.steps.indexOf(step) + 1 : 0, 'repair', freeId(finish, 'repair')),
      },
    ];
  });
