import { setBypass } from '../finish/edits';
import { stepName } from '../finish/finish';
import { kindsAlong, worksOn } from '../finish/flow';
import { stepSpec } from '../steps/registry';
import { kindsOf } from '../steps/shared/define';
import type { Rule } from './advice';

/** A step that finds nothing on its strand that it works on. */
export const inactive: Rule = (finish) =>
  finish.strands.flatMap((strand) => {
    const kinds = kindsAlong(finish, strand);
    return strand.steps.flatMap((step, i) => {
      if (step.bypass || worksOn(step.type, kinds[i])) return [];
      const wants = kindsOf(stepSpec(step.type) ?? {}).join(' or ');
      return [
        {
          key: `inactive/${step.id}/${kinds[i]}`,
          at: step.id,
          title: `${stepName(step)} is inactive: its strand carries a ${kinds[i]} here`,
          remedy: `It works on ${wants}. Move it to such a strand, or bypass it until then.`,
          fix: setBypass(finish, step.id, true),
        },
      ];
    });
  });
