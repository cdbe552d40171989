import { moveStepTo } from '../finish/edits';
import { stepName } from '../finish/finish';
import { fitsAt, reasonFor, usualIndex } from '../finish/usual-place';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** A step that comes before or after its usual stage. */
export const oddOrder: Rule = (finish) =>
  finish.strands.flatMap((strand) =>
    strand.steps.flatMap((step, i) => {
      const above = strand.steps.slice(0, i).findLast((s) => stepSpec(s.type) && !stepSpec(s.type)!.anywhere);
      const rest = { ...strand, steps: strand.steps.filter((s) => s !== step) };
      // Told once: at the step that comes too late.
      if (!above || stepSpec(step.type)?.anywhere || fitsAt(rest, i, step.type)) return [];
      const usual = usualIndex(rest, step.type);
      if (usual.index >= i) return [];
      return [
        {
          key: `odd-order/${step.id}/${above.id}`,
          at: step.id,
          title: `${stepName(step)} stands after ${stepName(above)}`,
          remedy: `Usually it comes before: ${reasonFor(step.type, above.type)}.`,
          fix: moveStepTo(finish, step.id, strand.id, usual.index),
        },
      ];
    }),
  );
