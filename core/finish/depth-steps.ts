import type { Pass } from '../formats/passes';
import { stepSpec } from '../steps/registry';
import { andThen, type Edit } from './edit';
import { linkPass } from './edits';

/** Steps of air begin with the depth that there is. */

export type DepthPass = { media: string; name: string; label: string };

export const readsDepth = (type: string) => {
  const spec = stepSpec(type);
  return spec?.slots.depth !== undefined && spec.values.visibility !== undefined;
};

export const depthPass = (
  media: readonly { name: string; passes: readonly Pass[] }[],
): DepthPass | undefined =>
  media
    .flatMap((m) => m.passes.map((p) => ({ media: m.name, name: p.name, label: p.label, kind: p.kind })))
    .find((p) => p.kind === 'depth');

/** The step, taking a depth pass. */
export const withDepth = (added: Edit, stepId: string, { media, name, label }: DepthPass): Edit =>
  andThen(added, (doc) =>
    linkPass(doc, stepId, 'depth', { type: 'pass', media, pass: name }, label, undefined, 'data'),
  );
