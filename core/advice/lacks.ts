import { called } from '../finish/edit';
import { stepName } from '../finish/finish';
import { firstLink, firstLinkWords, linkFirst } from '../finish/first-link';
import { stepSpec } from '../steps/registry';
import { isRelevant } from '../steps/shared/define';
import type { Rule } from './advice';

/** A step that changes nothing because nothing is linked to a slot that it needs. */
export const lacks: Rule = (finish, { passes }) =>
  finish.strands.flatMap((strand) =>
    strand.steps.flatMap((step) => {
      const spec = stepSpec(step.type);
      if (!spec || step.bypass) return [];
      const media = Object.entries(passes).map(([name, of]) => ({ name, passes: of }));
      return Object.entries(spec.slots)
        .filter(([key, slot]) => slot.needed && !step.slots[key] && isRelevant(slot, step.values))
        .map(([key, slot]) => {
          const link = spec.beginsWith?.slot === key ? firstLink(step.type, media) : undefined;
          return {
            key: `lacks/${step.id}/${key}`,
            at: step.id,
            title: `${stepName(step)} changes nothing: its ${slot.name} is empty`,
            remedy: link ? `The shot has the pass ${link.label}.` : `Link it: ${slot.description}`,
            ...(link
              ? { fix: called(firstLinkWords(finish, step.id, link), linkFirst(finish, step.id, link)) }
              : {}),
          };
        });
    }),
  );
