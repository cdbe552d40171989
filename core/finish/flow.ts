import { type Kind, kindsOf } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { type Finish, placeIndex, type Strand } from './finish';

const headKind = (doc: Finish, strand: Strand, seen: ReadonlySet<string>): Kind => {
  const { head } = strand;
  if (head.type === 'ids' || head.type === 'shapes') return 'matte';
  if (head.type === 'pass') return strand.kind;
  if (head.type !== 'tap') return 'picture';
  const tapped = doc.strands.find((s) => s.id === head.strand);
  return tapped && !seen.has(tapped.id) ? kindAt(doc, tapped.id, head.after, seen) : strand.kind;
};

/** What a strand carries after its head and after each of its steps: a key makes a matte of a picture. */
export function kindsAlong(doc: Finish, strand: Strand, seen: ReadonlySet<string> = new Set()): Kind[] {
  let kind = headKind(doc, strand, new Set([...seen, strand.id]));
  return [
    kind,
    ...strand.steps.map((step) => {
      const spec = stepSpec(step.type);
      if (spec?.makes && kindsOf(spec).includes(kind) && !step.bypass) kind = spec.makes;
      return kind;
    }),
  ];
}

/** What a strand carries at a place. */
export function kindAt(doc: Finish, strandId: string, after: string, seen?: ReadonlySet<string>): Kind {
  const strand = doc.strands.find((s) => s.id === strandId);
  if (!strand) return 'picture';
  return kindsAlong(doc, strand, seen)[placeIndex(strand, after)];
}

/** True where a step finds something on its strand that it works on. */
export const worksOn = (type: string, kind: Kind): boolean => kindsOf(stepSpec(type) ?? {}).includes(kind);
