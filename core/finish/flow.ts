import { isDraft } from 'immer';
import type { Kind } from '../picture/kind';
import { stepSpec } from '../steps/registry';
import { kindsOf } from '../steps/shared/define';
import type { Finish, Strand } from './finish';
import { isUse, spanOf } from './uses';

type Known = {
  strands: Map<string, Strand>;
  kinds: Map<string, readonly Kind[]>;
  /** The numbers of a strand's steps, from 1. */
  counts: Map<string, Map<string, number>>;
};

/** Cache of derived data by document. Documents are immutable, so entries never change. */
const known = new WeakMap<Finish, Known>();

function knownOf(doc: Finish): Known {
  const before = isDraft(doc) ? undefined : known.get(doc);
  if (before) return before;
  const fresh: Known = {
    strands: new Map(doc.strands.map((s) => [s.id, s])),
    kinds: new Map(),
    counts: new Map(),
  };
  if (!isDraft(doc)) known.set(doc, fresh);
  return fresh;
}

function along(of: Known, strand: Strand): readonly Kind[] {
  const before = of.kinds.get(strand.id);
  if (before) return before;
  // Should a strand lead back to itself, it carries here what it says.
  of.kinds.set(strand.id, Array(strand.steps.length + 1).fill(strand.kind));
  const kinds = [headKind(of, strand)];
  strand.steps.forEach((step, i) => {
    const spec = stepSpec(step.type);
    const kind = kinds[i];
    // A recipe that is bypassed gives what came to it.
    if (isUse(step) && step.bypass) kinds.push(kinds[spanOf(strand, i)[0]]);
    else kinds.push(spec?.produces && kindsOf(spec).includes(kind) && !step.bypass ? spec.produces : kind);
  });
  of.kinds.set(strand.id, kinds);
  return kinds;
}

function headKind(of: Known, { head, kind }: Strand): Kind {
  if (head.type === 'ids' || head.type === 'shapes') return 'matte';
  if (head.type === 'pass' || head.type === 'input') return kind;
  if (head.type !== 'tap') return 'picture';
  const tapped = of.strands.get(head.strand);
  return tapped ? kindAfter(of, tapped, head.after) : kind;
}

function kindAfter(of: Known, strand: Strand, after: string): Kind {
  const kinds = along(of, strand);
  if (after === 'head') return kinds[0];
  if (after === 'end') return kinds[kinds.length - 1];
  let counts = of.counts.get(strand.id);
  if (!counts) {
    counts = new Map(strand.steps.map((s, i): [string, number] => [s.id, i + 1]));
    of.counts.set(strand.id, counts);
  }
  return kinds[counts.get(after) ?? 0];
}

/** Kinds that a strand carries after its head and after each of its steps. A key turns a picture into a matte. */
export const kindsAlong = (doc: Finish, strand: Strand): readonly Kind[] => along(knownOf(doc), strand);

/** Kind that a strand carries at a point. */
export function kindAt(doc: Finish, strandId: string, after: string): Kind {
  const of = knownOf(doc);
  const strand = of.strands.get(strandId);
  return strand ? kindAfter(of, strand, after) : 'picture';
}

/** True where a step finds something on its strand that it works on. */
export const worksOn = (type: string, kind: Kind): boolean => kindsOf(stepSpec(type) ?? {}).includes(kind);
