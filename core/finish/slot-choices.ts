import { stepSpec } from '../steps/registry';
import type { SlotSpec } from '../steps/shared/define';
import { type Finish, findStep, type Step, stepName } from './finish';
import { kindsAlong } from './flow';
import { pointKey, pointsAfter } from './graph';
import { isInput, isUse, slotsOf, usesAround } from './uses';

/** What a slot can be linked to within a finish. */

/** `circle`: the point takes from the step itself, so that a link from it would make a circle. */
export type PointChoice = { strand: string; after: string; name: string; circle: boolean };
export type StrandChoices = { strand: string; name: string; points: PointChoice[] };

/** The points of each strand that a slot may take from; a strand without steps is one point. */
export function pointChoices(
  doc: Finish,
  step: Step,
  slotKey: string,
  { kind }: Pick<SlotSpec, 'kind'>,
): StrandChoices[] {
  const wantsData = kind === 'data';
  const { strand: host, index: at } = findStep(doc, step.id)!;
  // What is inside other recipes is their own.
  const around = usesAround(doc, step.id);
  // The slots of a recipe are strands inside that begin at what is linked.
  const isInner = isUse(step) && slotsOf(doc, step.id).some((s) => s.strand.id === slotKey);
  const after = pointsAfter(doc, isInner ? pointKey(slotKey, 0) : pointKey(host.id, at + 1));
  return doc.strands
    .filter(
      (s) =>
        (s.inside === undefined || around.includes(s.inside)) &&
        kindsAlong(doc, s).some((k) => (k === 'data') === wantsData) &&
        !(s.forSlot && s.steps.length === 0 && s.head.type === 'pass'),
    )
    .map((s) => {
      const steps = s.steps.map((t, i) => ({ t, i })).filter(({ t }) => !isInput(t));
      const isCircle = (index: number) => after.has(pointKey(s.id, index));
      const whole = { strand: s.id, after: 'end', name: s.name, circle: isCircle(s.steps.length) };
      if (steps.length === 0) return { strand: s.id, name: s.name, points: [whole] };
      return {
        strand: s.id,
        name: s.name,
        points: [
          { strand: s.id, after: 'head', name: `${s.name}, head`, circle: isCircle(0) },
          ...steps.map(({ t, i }) => ({
            strand: s.id,
            after: t.id,
            name: `${s.name}, after ${stepName(t)}`,
            circle: isCircle(i + 1),
          })),
          // The end of the step's own strand comes after it, whatever it is.
          ...(s === host ? [] : [{ ...whole, name: `${s.name}, end` }]),
        ],
      };
    });
}

/** A slot by its name on the screen: one of a step, or of a recipe. */
export const slotName = (doc: Finish, stepId: string, slot: string): string => {
  const step = findStep(doc, stepId)?.step;
  const inner = step && isUse(step) ? slotsOf(doc, stepId).find((s) => s.strand.id === slot) : undefined;
  return inner?.strand.name ?? stepSpec(step?.type ?? '')?.slots[slot]?.name ?? slot;
};
