import { linkSlot } from '../finish/edits';
import { findStep, stepName } from '../finish/finish';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** A step whose matte is empty on this frame changes nothing here. */
export const emptyMatte: Rule = (finish, { emptyMattes, byAlpha, frame }) =>
  emptyMattes.flatMap((point) => {
    const [stepId, slot] = point.split('/');
    const step = findStep(finish, stepId)?.step;
    const spec = step && stepSpec(step.type)?.slots[slot];
    const tap = step?.slots[slot];
    if (!step || step.bypass || !tap) return [];
    if (byAlpha.includes(point))
      return [
        {
          key: `empty-matte/${point}/alpha`,
          at: stepId,
          title: `${spec?.name ?? slot} of ${stepName(step)} reads the luminance of something black`,
          remedy: 'Nothing is bright there, but its alpha covers a part of the picture. Read alpha.',
          fix: linkSlot(finish, stepId, slot, { ...tap, as: 'alpha' }),
        },
      ];
    if (spec?.sometimes) return [];
    return [
      {
        key: `empty-matte/${point}/${frame}`,
        at: stepId,
        title: `${spec?.name ?? slot} of ${stepName(step)} is empty on frame ${frame}`,
        remedy:
          'The step changes nothing here. Read the matte another way (alpha, luminance), or free the slot.',
        fix: linkSlot(finish, stepId, slot, undefined),
      },
    ];
  });
