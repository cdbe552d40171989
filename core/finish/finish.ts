import * as v from 'valibot';
import type { Rgb, StepSpec, ValueSpec } from '../steps/define';
import { defaultsOf } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { after, finite, type Head, headSchema, id, type Layer, name, type PassHead } from './heads';
import { keySchema } from './keys';
import { findLayer } from './layers';

export type {
  Head,
  IdsHead,
  Layer,
  LayerPlace,
  MixHead,
  PassHead,
  ShapesHead,
  StackHead,
  TapHead,
} from './heads';

/** The version of the finish format that this file describes. */
export const finishFormat = 1;

/** Rows of numbers; a list of colours is rows of three. */
const table = v.pipe(v.array(v.pipe(v.array(finite), v.readonly())), v.readonly());
const value = v.union([
  finite,
  v.boolean(),
  v.string(),
  v.pipe(v.tuple([finite, finite, finite]), v.readonly()),
  table,
]);
const tap = v.strictObject({
  strand: id,
  after,
  /** How a picture becomes a matte, where the slot takes a matte. */
  as: v.optional(v.picklist(['alpha', 'luminance'])),
});

const step = v.strictObject({
  id,
  type: v.string(),
  name: v.optional(name),
  /** Words of the user about it. */
  note: v.optional(v.pipe(v.string(), v.maxLength(2000))),
  /** A linked copy: its values are those of this step. */
  follows: v.optional(id),
  bypass: v.optional(v.boolean(), false),
  slots: v.optional(v.record(v.string(), tap), {}),
  values: v.optional(v.record(v.string(), value), {}),
  /** Numbers that change over time, in place of their values: keys in the order of their frames. */
  keys: v.optional(v.record(v.string(), v.pipe(v.array(keySchema), v.minLength(1, 'keys are missing')))),
});

const strand = v.strictObject({
  id,
  name,
  kind: v.picklist(['picture', 'matte', 'data']),
  /** Made for a slot: it goes with the last link to it, as long as nobody put a step on it. */
  forSlot: v.optional(v.literal(true)),
  /** Its end can be exported under this name, beside the main strand's. */
  output: v.optional(
    v.pipe(
      v.string(),
      v.regex(/^[\w-]{1,60}$/, 'an output’s name has letters, digits, dashes and underscores'),
    ),
  ),
  /** Shown on the board as its head alone. */
  folded: v.optional(v.literal(true)),
  head: headSchema,
  steps: v.array(step),
});

const finish = v.strictObject({
  format: v.literal('zafiro-finish'),
  version: v.literal(finishFormat),
  id,
  name,
  main: id,
  strands: v.pipe(v.array(strand), v.minLength(1, 'a finish needs a strand')),
  /** Advice that is not to be given again, by its key. */
  dismissed: v.optional(v.array(v.pipe(v.string(), v.maxLength(300)))),
});

export type Finish = v.InferOutput<typeof finish>;
export type Strand = Finish['strands'][number];
export type Step = Strand['steps'][number];
export type Tap = v.InferOutput<typeof tap>;

/** Structure of a finish as Valibot schema, for the published JSON Schema too. */
export const finishSchema = finish;

/** A finish that cannot be used: what is wrong, at which place of the document, and the mend. */
export class FinishError extends Error {
  constructor(
    readonly problem: string,
    readonly place: string,
    readonly mend: string,
  ) {
    super(`${problem} (${place}). ${mend}`);
    this.name = 'FinishError';
  }
}

function checkValue(spec: ValueSpec, given: unknown): string | undefined {
  switch (spec.type) {
    case 'number':
      if (typeof given !== 'number') return 'takes a number';
      if (spec.whole && !Number.isInteger(given)) return 'takes a whole number';
      return given < spec.from || given > spec.to ? `lies between ${spec.from} and ${spec.to}` : undefined;
    case 'toggle':
      return typeof given === 'boolean' ? undefined : 'is true or false';
    case 'choice': {
      const options = Object.keys(spec.options);
      return options.includes(given as string) ? undefined : `is one of ${options.join(', ')}`;
    }
    case 'text':
      if (typeof given !== 'string') return 'is a text';
      return given.length > spec.longest ? `has at most ${spec.longest} letters` : undefined;
    case 'colour':
      if (!Array.isArray(given) || given.length !== 3) return 'takes three numbers, red, green and blue';
      return (given as unknown as Rgb).some((c) => c < 0) ? 'takes numbers from 0 up' : undefined;
    case 'rows': {
      const columns = Object.values(spec.columns);
      const rows = given as readonly (readonly number[])[];
      if (!Array.isArray(given) || !rows.every((r) => Array.isArray(r) && r.length === columns.length))
        return `takes rows of ${columns.length} numbers`;
      if (rows.length > spec.most) return `takes at most ${spec.most} rows`;
      for (const row of rows)
        for (const [i, c] of columns.entries()) {
          const wrong = checkValue(c, row[i]);
          if (wrong) return `has a ${c.name.toLowerCase()} that is wrong: it ${wrong}`;
        }
      return undefined;
    }
    case 'colours': {
      if (!Array.isArray(given) || !given.every((c) => Array.isArray(c))) return 'takes a list of colours';
      return given.length < 1 || given.length > spec.most ? `takes 1 to ${spec.most} colours` : undefined;
    }
  }
}

function checkStep(step: Step, spec: StepSpec, place: string) {
  for (const [key, given] of Object.entries(step.values)) {
    const declared = spec.values[key];
    if (!declared) throw new FinishError(`${spec.name} has no value “${key}”`, place, 'Take it out.');
    const wrong = checkValue(declared, given);
    if (wrong) throw new FinishError(`${declared.name} of ${spec.name} ${wrong}`, place, 'Change the value.');
  }
  for (const [key, list] of Object.entries(step.keys ?? {})) {
    const declared = spec.values[key];
    if (declared?.type !== 'number')
      throw new FinishError(`${spec.name} has no number “${key}” to put keys on`, place, 'Take them out.');
    for (const [i, k] of list.entries()) {
      const wrong = checkValue(declared, k.value);
      if (wrong)
        throw new FinishError(
          `${declared.name} of ${spec.name} ${wrong}`,
          `${place}, key on frame ${k.frame}`,
          'Change the value.',
        );
      if (i > 0 && list[i - 1].frame >= k.frame)
        throw new FinishError(
          `Keys of ${declared.name} stand out of order`,
          `${place}, frame ${k.frame}`,
          'Put them in the order of their frames, one for each.',
        );
    }
  }
  for (const key of Object.keys(step.slots)) {
    if (!spec.slots[key]) throw new FinishError(`${spec.name} has no slot “${key}”`, place, 'Take it out.');
  }
}

/** The place that is tapped must be there. */
function checkPlace(doc: Finish, { strand, after }: Pick<Tap, 'strand' | 'after'>, from: string) {
  const tapped = doc.strands.find((s) => s.id === strand)!;
  if (after === 'head' || after === 'end' || tapped.steps.some((s) => s.id === after)) return;
  throw new FinishError(`Strand “${tapped.name}” has no step “${after}”`, from, 'Link it again.');
}

/** How many of a strand's steps stand before a place: none at its head, all at its end; 0 for a step that it does not have. */
export function placeIndex({ steps }: Strand, after: string): number {
  if (after === 'head') return 0;
  return after === 'end' ? steps.length : steps.findIndex((s) => s.id === after) + 1;
}

/** The place above the step at `index` of a strand. */
export const placeAbove = ({ steps }: Pick<Strand, 'steps'>, index: number): string =>
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

/**
 * Goes through every place of a finish, each after all that it takes from: a strand's head (index 0), and each of its steps (from 1). One
 * strand may take from another's beginning and give to its end.
 * @throws {FinishError} where a place would feed itself, or a link leads nowhere.
 */
export function eachPlace(
  doc: Finish,
  visit: (strand: Strand, index: number, from: readonly { strand: Strand; index: number }[]) => void,
) {
  const state = new Map<string, 'open' | 'done'>();
  const placeOf = ({ strand: id, after }: Pick<Tap, 'strand' | 'after'>, from: string) => {
    const strand = doc.strands.find((s) => s.id === id);
    if (!strand)
      throw new FinishError(`There is no strand “${id}”`, from, 'Link the slot to a strand of this finish.');
    checkPlace(doc, { strand: id, after }, from);
    return { strand, index: placeIndex(strand, after) };
  };
  const walk = (strand: Strand, index: number, from: string) => {
    const key = `${strand.id}/${index}`;
    if (state.get(key) === 'done') return;
    if (state.get(key) === 'open')
      throw new FinishError(
        `Strand “${strand.name}” would feed itself`,
        from,
        'Link the slot to another strand.',
      );
    state.set(key, 'open');
    const step = strand.steps[index - 1];
    const place = step ? `strand ${strand.id}, step ${step.id}` : `strand ${strand.id}, head`;
    const taps = step ? Object.values(step.slots) : headTaps(strand.head);
    const taken = taps.map((t) => placeOf(t, place));
    if (step) walk(strand, index - 1, place);
    for (const t of taken) walk(t.strand, t.index, place);
    state.set(key, 'done');
    visit(strand, index, taken);
  };
  const main = doc.strands.find((s) => s.id === doc.main);
  if (!main)
    throw new FinishError(`There is no strand “${doc.main}”`, 'main strand', 'Name a strand of this finish.');
  for (const strand of [main, ...doc.strands])
    for (let i = 0; i <= strand.steps.length; i++) walk(strand, i, `strand ${strand.id}`);
}

/** @throws {FinishError} where a place would feed itself, or a link leads nowhere. */
export const checkLinks = (doc: Finish) => eachPlace(doc, () => {});

/** A layer may follow one that has an id and follows nobody itself. */
function checkLayers(doc: Finish) {
  for (const strand of doc.strands)
    for (const { media, follows } of strand.head.type === 'stack' ? strand.head.layers : []) {
      if (follows === undefined) continue;
      const original = findLayer(doc, follows);
      if (!original || original.follows !== undefined)
        throw new FinishError(
          `The layer ${media} follows “${follows}”, which it cannot`,
          `strand ${strand.id}, head`,
          'Take “follows” out.',
        );
    }
}

/**
 * A finish from JSON, checked against its structure, the declarations of its steps, and the order of its strands.
 * Values that a step leaves out take their defaults.
 * @throws {FinishError} naming the place in the document.
 */
export function parseFinish(json: unknown): Finish {
  const given = json as { format?: unknown; version?: unknown } | null;
  if (given?.format !== 'zafiro-finish') {
    throw new FinishError(
      'This is not a Zafiro finish',
      'format',
      'Its first line says "format": "zafiro-finish".',
    );
  }
  if (typeof given.version === 'number' && given.version > finishFormat) {
    throw new FinishError(
      `The finish has format version ${given.version}`,
      'version',
      'Open it with a newer Zafiro.',
    );
  }
  const checked = v.safeParse(finish, json);
  if (!checked.success) {
    const issue = checked.issues[0];
    throw new FinishError(issue.message, v.getDotPath(issue) ?? 'finish', 'Correct the document there.');
  }
  const doc = checked.output;
  const ids = new Set<string>();
  for (const strand of doc.strands) {
    const layers = strand.head.type === 'stack' ? strand.head.layers : [];
    for (const { id } of [strand, ...strand.steps, ...layers]) {
      if (id === undefined) continue;
      if (ids.has(id))
        throw new FinishError(`The id “${id}” stands twice`, `strand ${strand.id}`, 'Rename one.');
      ids.add(id);
    }
    for (const step of strand.steps) {
      const place = `strand ${strand.id}, step ${step.id}`;
      const spec = stepSpec(step.type);
      if (!spec)
        throw new FinishError(`There is no step “${step.type}”`, place, 'Open it with a newer Zafiro.');
      checkStep(step, spec, place);
      step.values = { ...defaultsOf(spec.values), ...step.values };
    }
  }
  for (const { step, strand } of doc.strands.flatMap((strand) =>
    strand.steps.map((step) => ({ step, strand })),
  )) {
    if (step.follows === undefined) continue;
    const place = `strand ${strand.id}, step ${step.id}`;
    const original = findStep(doc, step.follows)?.step;
    if (!original || original.type !== step.type || original.follows !== undefined)
      throw new FinishError(
        `The step follows “${step.follows}”, which it cannot`,
        place,
        'Take “follows” out.',
      );
  }
  checkLayers(doc);
  const outputs = doc.strands.flatMap((s) => s.output ?? []);
  const twice = outputs.find((o, i) => outputs.indexOf(o) !== i);
  if (twice) throw new FinishError(`The output “${twice}” stands twice`, 'strands', 'Rename one.');
  checkLinks(doc);
  return doc;
}

/** What a head takes from other strands. */
export const headTaps = (head: Head): Pick<Tap, 'strand' | 'after'>[] =>
  head.type === 'tap'
    ? [head]
    : head.type === 'stack'
      ? head.layers.flatMap((l) => l.from ?? [])
      : head.type === 'mix'
        ? head.passes.flatMap((p) => p.within ?? [])
        : [];

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

/** The pass that says how large the pictures of a finish are: of the main strand if it has one, else the first there is. */
export function leadingPass(doc: Finish): PassHead | undefined {
  const strands = [doc.strands.find((s) => s.id === doc.main)!, ...doc.strands];
  for (const strand of strands) {
    let at: Strand | undefined = strand;
    // Through splits to where the strand comes from.
    for (let i = 0; at?.head.type === 'tap' && i < doc.strands.length; i++) {
      const tapped: string = at.head.strand;
      at = doc.strands.find((s) => s.id === tapped);
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

/** What the step is called on the board. */
export const stepName = (step: Step): string => step.name ?? stepSpec(step.type)?.name ?? step.type;
