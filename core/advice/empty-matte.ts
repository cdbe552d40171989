import { linkSlot } from '../finish/edits';
import { type Finish, findStep, type Step, stepName, type Tap } from '../finish/finish';
import { stepSpec } from '../steps/registry';
import type { Finding, Rule } from './advice';

type Taken = { point: string; step: Step; slot: string; name: string; tap: Tap };

const names = (taken: readonly Taken[]): string => {
  const all = [...new Set(taken.map(({ step }) => stepName(step)))];
  return all.length < 3 ? all.join(' and ') : `${all[0]} and ${all.length - 1} more steps`;
};

/** What is said of a matte at whose head nothing was chosen or drawn yet. */
function unchosen(finish: Finish, taken: readonly Taken[]): Finding | undefined {
  const [{ tap }] = taken;
  const strand = finish.strands.find((s) => s.id === tap.strand);
  const isObjects = strand?.head.type === 'ids' && strand.head.objects.length === 0;
  const isShapes = strand?.head.type === 'shapes' && strand.head.shapes.length === 0;
  if (!strand || (!isObjects && !isShapes)) return undefined;
  const isOne = new Set(taken.map(({ step }) => step.id)).size === 1;
  return {
    key: `empty-matte/${strand.id}/unchosen`,
    at: strand.id,
    title: `${strand.name} has no ${isObjects ? 'object' : 'shape'} yet`,
    remedy: `${names(taken)} ${isOne ? 'changes' : 'change'} nothing until you ${isObjects ? 'choose one' : 'draw one'} on the picture.`,
    choose: { strand: strand.id, label: isObjects ? 'Choose objects' : 'Draw a shape' },
  };
}

/** A step whose matte is empty on this frame changes nothing here: said once for each matte, whoever takes it. */
export const emptyMatte: Rule = (finish, { emptyMattes, byAlpha, frame }) => {
  const byMatte = new Map<string, Taken[]>();
  for (const point of emptyMattes) {
    const [stepId, slot] = point.split('/');
    const step = findStep(finish, stepId)?.step;
    const tap = step?.slots[slot];
    if (!step || step.bypass || !tap) continue;
    const spec = stepSpec(step.type)?.slots[slot];
    if (spec?.sometimes && !byAlpha.includes(point)) continue;
    const key = `${tap.strand}/${tap.after}/${tap.as ?? ''}`;
    byMatte.set(key, [...(byMatte.get(key) ?? []), { point, step, slot, name: spec?.name ?? slot, tap }]);
  }
  return [...byMatte.values()].map((taken): Finding => {
    const [{ point, step, slot, name, tap }] = taken;
    const others = taken.length > 1 ? `, and what else takes that matte,` : '';
    if (byAlpha.includes(point))
      return {
        key: `empty-matte/${point}/alpha`,
        at: step.id,
        title: `${name} of ${stepName(step)} reads the luminance of something black`,
        remedy: 'Nothing is bright there, but its alpha covers a part of the picture. Read alpha.',
        fix: linkSlot(finish, step.id, slot, { ...tap, as: 'alpha' }),
      };
    return (
      unchosen(finish, taken) ?? {
        key: `empty-matte/${point}/${frame}`,
        at: step.id,
        title: `${name} of ${stepName(step)}${others} is empty on frame ${frame}`,
        remedy: `The matte covers nothing here. Read it another way (alpha, luminance), or free the slot.`,
        fix: linkSlot(finish, step.id, slot, undefined),
      }
    );
  });
};
