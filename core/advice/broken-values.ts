import { findStep, stepName } from '../finish/finish';
import type { Rule } from './advice';

const percent = (share: number) => (share < 0.001 ? 'Below 0.1 %' : `${(share * 100).toFixed(1)} %`);

/** Values that are not finite, told at the first place on each strand that has them. */
export const brokenValues: Rule = (finish, { broken }) =>
  finish.strands
    .filter((s) => s.kind !== 'data')
    .flatMap((s) => {
      const first = [s.id, ...s.steps.map((t) => t.id)].find((id) => (broken[id] ?? 0) > 0);
      if (!first) return [];
      const step = findStep(finish, first)?.step;
      const where = step ? `after ${stepName(step)}` : `in the frame at the head of ${s.name}`;
      return [
        {
          key: `broken-values/${first}`,
          at: first,
          says: `${percent(broken[first])} of pixels are not finite ${where}`,
          mend: 'Light steps take them as 0, but they stay in the picture. Look with marks on, and render the frame again.',
        },
      ];
    });
