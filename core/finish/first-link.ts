import type { Pass } from '../formats/passes';
import { stepSpec } from '../steps/registry';
import { andThen, type Edit } from './edit';
import { linkPass } from './edits';
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

/** The step, taking that pass, with the values that it begins with then. */
export const withFirstLink = (
  added: Edit,
  stepId: string,
  type: string,
  { media, name, label }: FirstLink,
): Edit =>
  andThen(added, (doc) => {
    const { slot, values } = stepSpec(type)!.beginsWith!;
    const linked = linkPass(doc, stepId, slot, { type: 'pass', media, pass: name }, label, undefined, 'data');
    return values ? andThen(linked, (next) => setValues(next, stepId, values)) : linked;
  });
