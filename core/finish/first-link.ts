import type { Pass } from '../formats/passes';
import { stepSpec } from '../steps/registry';
import { defaultsOf, type Values } from '../steps/shared/define';
import { andThen, type Edit } from './edit';
import { linkPass, linkSlot } from './edits';
import { type Finish, findStep, type PassHead, stepName } from './finish';
import { startForSlot } from './new-strand';
import { usesAround } from './uses';
import { setValues } from './value-edits';

/** Steps that read a pass of a kind, such as depth, begin with the one that there is. */

export type FirstLink = { media: string; name: string; label: string };

/** The pass that a step of a type is linked to as it is added, where the shot has one of its kind. */
export function firstLink(
  type: string,
  media: readonly { name: string; passes: readonly Pass[] }[],
): FirstLink | undefined {
  const kind = stepSpec(type)?.beginsWith?.pass;
  if (kind === undefined) return undefined;
  return media
    .flatMap((m) => m.passes.map((p) => ({ media: m.name, name: p.name, label: p.label, kind: p.kind })))
    .find((p) => p.kind === kind);
}

const isHead = (head: { type: string }, { media, pass }: PassHead) =>
  head.type === 'pass' && (head as PassHead).media === media && (head as PassHead).pass === pass;

/** Values that a step of the finish which reads the same pass has under the same names: two that belong together begin alike. */
function sharedValues(doc: Finish, head: PassHead, type: string): Values {
  const { values: specs } = stepSpec(type)!;
  for (const strand of doc.strands)
    for (const step of strand.steps) {
      const reads = Object.values(step.slots).some((tap) =>
        doc.strands.some((s) => s.id === tap.strand && isHead(s.head, head)),
      );
      const own = stepSpec(step.type)?.values;
      const isAlike = own !== undefined && Object.keys(specs).some((key) => specs[key] === own[key]);
      if (!reads || !isAlike) continue;
      return Object.fromEntries(
        Object.keys(specs)
          .filter((key) => specs[key] === own[key] && specs[key].section !== 'keep')
          .map((key) => [key, step.values[key] as Values[string]]),
      );
    }
  return {};
}

/** Links a slot to what `through` makes of a pass: to the step of the finish that does so already, or to a new strand. */
function linkThrough(doc: Finish, stepId: string, slot: string, through: string, head: PassHead): Edit {
  for (const strand of doc.strands) {
    const step = strand.steps.find((s) => s.type === through && !s.bypass);
    if (step && isHead(strand.head, head) && usesAround(doc, step.id).length === 0)
      return linkSlot(doc, stepId, slot, { strand: strand.id, after: step.id });
  }
  const { name } = stepSpec(through)!;
  const values = { ...defaultsOf(stepSpec(through)!.values), ...sharedValues(doc, head, through) };
  return startForSlot(doc, stepId, slot, {
    key: '',
    name,
    description: '',
    head,
    kind: 'data',
    steps: [through],
    values,
  }).edit;
}

/** A link of a step to the pass that it begins with. */
export function linkFirst(doc: Finish, stepId: string, { media, name, label }: FirstLink): Edit {
  const { slot, values, through } = stepSpec(findStep(doc, stepId)!.step.type)!.beginsWith!;
  const head: PassHead = { type: 'pass', media, pass: name };
  const linked = through
    ? linkThrough(doc, stepId, slot, through, head)
    : linkPass(doc, stepId, slot, head, label, undefined, 'data');
  return values ? andThen(linked, (next) => setValues(next, stepId, values)) : linked;
}

/** The step, taking that pass, with the values that it begins with then. */
export const withFirstLink = (added: Edit, stepId: string, link: FirstLink): Edit =>
  andThen(added, (doc) => linkFirst(doc, stepId, link));

/** What a fix is called that links a step to the pass that it needs. */
export const firstLinkWords = (doc: Finish, stepId: string, { label }: FirstLink): string => {
  const { step } = findStep(doc, stepId)!;
  const { slot } = stepSpec(step.type)!.beginsWith!;
  return `link ${stepSpec(step.type)!.slots[slot].name} of ${stepName(step)} to ${label}`;
};
