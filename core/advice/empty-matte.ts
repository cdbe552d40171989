import { linkSlot } from '../finish/edits';
import { findStep, stepName } from '../finish/finish';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** A step whose matte is empty on this frame changes nothing here. */
export const emptyMatte: Rule = (finish, { emptyMattes, frame }) =>
  emptyMattes.flatMap((place) => {
    const [stepId, slot] = place.split('/');
    const step = findStep(finish, stepId)?.step;
    const told = step && stepSpec(step.type)?.slots[slot];
    if (!step || step.bypass || !step.slots[slot] || told?.sometimes) return [];
    return [
      {
        key: `empty-matte/${place}/${frame}`,
        at: stepId,
        says: `${told?.name ?? slot} of ${stepName(step)} is empty on frame ${frame}`,
        mend: 'The step changes nothing here. Read the matte another way (alpha, luminance), or free the slot.',
        fix: linkSlot(finish, stepId, slot, undefined),
      },
    ];
  });
