import type { Pass } from '../formats/passes';
import type { ValueHistogram } from '../scopes/values';
import { stepSpec } from '../steps/registry';
import { andThen, type Edit } from './edit';
import { linkPass, setValues } from './edits';

/** Steps of air begin with the depth that there is, and at how that lies. */

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

/** The same, from where the nearest twentieth of the picture ends to where nearly all of it lies. */
export const fromPicture = (linked: Edit, stepId: string, lies: ValueHistogram): Edit =>
  andThen(linked, (doc) => setValues(doc, stepId, mistStart(lies)));

/** Near, far and visibility from how depth lies: a twentieth of the picture stays clear, the far end is nearly closed. */
export function mistStart({ low, high }: Pick<ValueHistogram, 'low' | 'high'>): Record<string, number> {
  const round = (n: number) => Number(n.toPrecision(3));
  const far = Math.max(high, low + 1e-3);
  return { near: round(low), far: round(far), visibility: round(Math.max(1e-3, (far - low) * 2)) };
}
