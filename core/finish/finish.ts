import { FinishError } from './finish-error';
import { specOf } from './front';
import type { Head, Layer, PassHead } from './heads';
import type { Finish, Step, Strand, Tap } from './schema';

export { FinishError } from './finish-error';
export { specOf } from './front';
export type {
  Head,
  IdsHead,
  InputHead,
  Layer,
  LayerTransform,
  MixHead,
  PassHead,
  ShapesHead,
  StackHead,
  TapHead,
} from './heads';
export type { Finish, Group, Step, Strand, Tap } from './schema';

/** The number of a strand's steps before a point: 0 at its head, all at its end, 0 for a step that it does not have. */
export function pointIndex({ steps }: Strand, after: string): number {
  if (after === 'head') return 0;
  return after === 'end' ? steps.length : steps.findIndex((s) => s.id === after) + 1;
}

/** The place above the step at `index` of a strand. */
export const pointAbove = ({ steps }: Pick<Strand, 'steps'>, index: number): string =>
  index > 0 ? steps[index - 1].id : 'head';

/** A strand's head, if it is of that type. */
export function headOf<T extends Head['type']>(
  doc: Finish,
  strandId: string,
  type: T,
): Extract<Head, { type: T }> | undefined {
  const head = doc.strands.find((s) => s.id === strandId)?.head;
  return head?.type === type ? (head as Extract<Head, { type: T }>) : undefined;
}

/** The pass of one layer of a stack. */
export const layerHead = ({ media, pass }: Layer): PassHead => ({ type: 'pass', media, pass });

/** The passes that a head takes its picture from by itself. */
export function passesUsed(head: Head): PassHead[] {
  if (head.type === 'pass') return [head];
  if (head.type === 'stack') return head.layers.map(layerHead);
  if (head.type !== 'mix') return [];
  const names = [...head.passes.map((p) => p.pass), ...(head.beauty === undefined ? [] : [head.beauty])];
  return names.map((pass): PassHead => ({ type: 'pass', media: head.media, pass }));
}

/** The pass that sets the picture size of a finish: that of the main strand, else the first one. */
export function leadingPass(doc: Finish): PassHead | undefined {
  const strands = [doc.strands.find((s) => s.id === doc.main)!, ...doc.strands];
  for (const strand of strands) {
    let at: Strand | undefined = strand;
    // Through splits and slots to where the strand comes from.
    for (let i = 0; i < doc.strands.length; i++) {
      const head: Head | undefined = at?.head;
      const tapped: Pick<Tap, 'strand'> | undefined =
        head?.type === 'tap' ? head : head?.type === 'input' ? head.from : undefined;
      if (!tapped) break;
      at = doc.strands.find((s) => s.id === tapped.strand);
    }
    const [pass] = at ? passesUsed(at.head) : [];
    if (pass) return pass;
  }
  return undefined;
}

export const mainStrand = (doc: Finish): Strand => doc.strands.find((s) => s.id === doc.main)!;

/** The finish whose finished picture is a named output. @throws {FinishError} naming those there are. */
export function forOutput(doc: Finish, output: string): Finish {
  const strand = doc.strands.find((s) => s.output === output);
  if (strand) return { ...doc, main: strand.id };
  const there = doc.strands.flatMap((s) => s.output ?? []).join(', ') || 'none';
  throw new FinishError(`There is no output “${output}”`, 'strands', `The finish has: ${there}.`);
}

/** The strand that is meant by a step's or a strand's id; the main one if it is neither. */
export const strandOf = (doc: Finish, id: string): Strand =>
  findStep(doc, id)?.strand ?? doc.strands.find((s) => s.id === id) ?? mainStrand(doc);

/** The strand and index of a step; undefined where the document has no such step. */
export function findStep(
  doc: Finish,
  stepId: string,
): { strand: Strand; index: number; step: Step } | undefined {
  for (const strand of doc.strands) {
    const index = strand.steps.findIndex((s) => s.id === stepId);
    if (index >= 0) return { strand, index, step: strand.steps[index] };
  }
}

/** The step whose values hold: itself, or the one that a linked copy follows. */
export const originalOf = (doc: Finish, step: Step): Step =>
  (step.follows !== undefined && findStep(doc, step.follows)?.step) || step;

/** Name of the step on the board. */
export const stepName = (step: Step): string => step.name ?? specOf(step)?.name ?? step.type;
