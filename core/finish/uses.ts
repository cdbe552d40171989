import { isDraft } from 'immer';
import { recipe, recipeInput } from '../steps/recipe';
import type { Finish, Step, Strand, Tap } from './finish';
import { FinishError } from './finish-error';
import type { Drive, Front } from './front';
import type { InputHead } from './heads';

/**
 * Uses of recipes. The steps of a recipe stand on their strand like all others, between the step that is its input and the step of its use, which has its
 * values; strands and guides inside name the use that they belong to. So everything inside has its picture, keys and links like anything else.
 */

export const isUse = ({ type }: Pick<Step, 'type'>): boolean => type === recipe.id;
export const isInput = ({ type }: Pick<Step, 'type'>): boolean => type === recipeInput.id;

/** The id of the step at which a use begins. */
export const inputIdOf = (useId: string): string => `${useId}.input`;

/** All uses of a finish, in the order of its strands. */
export const usesOf = (doc: Finish): Step[] => doc.strands.flatMap((s) => s.steps.filter(isUse));

/** The recipes of the library that a finish uses, one entry for each use. */
export const recipesIn = (doc: Finish): NonNullable<Step['recipe']>[] =>
  usesOf(doc).flatMap((u) => u.recipe ?? []);

/** The indexes of the first and last step of what stands at an index: of a recipe from its input to its use, else that step. */
export function spanOf({ steps }: Pick<Strand, 'steps'>, index: number): [number, number] {
  const step = steps[index];
  if (isUse(step)) {
    const input = inputIdOf(step.id);
    const first = steps.findIndex((s) => s.id === input);
    return [first < 0 ? index : first, index];
  }
  if (!isInput(step)) return [index, index];
  const last = steps.findIndex((s) => isUse(s) && inputIdOf(s.id) === step.id);
  return [index, last < 0 ? index : last];
}

/** The innermost use between whose steps something at an index of a strand would stand; else the one that the strand belongs to. */
function recipeAround(
  { steps, inside }: Pick<Strand, 'steps' | 'inside'>,
  index: number,
): string | undefined {
  const open: string[] = [];
  for (const step of steps.slice(0, index))
    if (isInput(step)) open.push(step.id.replace(/\.input$/, ''));
    else if (isUse(step)) open.pop();
  return open.at(-1) ?? inside;
}

/** The uses that a step, a strand or a guide is inside of, the innermost first. */
export function usesAround(doc: Finish, id: string): string[] {
  const out: string[] = [];
  let inner = around(doc, id);
  while (inner !== undefined && !out.includes(inner)) {
    out.push(inner);
    inner = around(doc, inner);
  }
  return out;
}

function around(doc: Finish, id: string): string | undefined {
  for (const strand of doc.strands) {
    if (strand.id === id) return strand.inside;
    const index = strand.steps.findIndex((s) => s.id === id);
    if (index < 0) continue;
    // The input of a use is inside it, the use itself is not.
    const use = recipeAround(strand, isInput(strand.steps[index]) ? index + 1 : index);
    return use === id ? recipeAround(strand, spanOf(strand, index)[0]) : use;
  }
  return doc.guides?.find((g) => g.id === id)?.inside;
}

/** All that belongs to a use, and where it stands. */
export type Contents = {
  use: Step;
  strand: Strand;
  /** The indexes of its input and of the use itself. */
  first: number;
  last: number;
  /** The steps between them. */
  steps: Step[];
  /** Strands inside, those of recipes inside it too. */
  strands: Strand[];
};

/** @throws {FinishError} where there is no such use. */
export function contentsOf(doc: Finish, useId: string): Contents {
  for (const strand of doc.strands) {
    const last = strand.steps.findIndex((s) => s.id === useId && isUse(s));
    if (last < 0) continue;
    const [first] = spanOf(strand, last);
    const uses = new Set([useId]);
    // Uses further inside: on its own steps, then on its strands.
    for (const step of strand.steps.slice(first, last)) if (isUse(step)) uses.add(step.id);
    const strands: Strand[] = [];
    for (let found = true; found; ) {
      found = false;
      for (const s of doc.strands) {
        if (s.inside === undefined || !uses.has(s.inside) || strands.includes(s)) continue;
        strands.push(s);
        for (const step of s.steps) if (isUse(step)) uses.add(step.id);
        found = true;
      }
    }
    strands.sort((a, b) => doc.strands.indexOf(a) - doc.strands.indexOf(b));
    return {
      use: strand.steps[last],
      strand,
      first,
      last,
      steps: strand.steps.slice(first + 1, last),
      strands,
    };
  }
  throw new FinishError(`There is no recipe “${useId}”`, 'edit', 'Reload the shot.');
}

type Slot = { strand: Strand; head: InputHead };

/** The slots of a use beside its mask: the strands inside that begin at something linked from elsewhere. */
export const slotsOf = (doc: Finish, useId: string): Slot[] =>
  doc.strands.flatMap((strand) =>
    strand.inside === useId && strand.head.type === 'input' ? [{ strand, head: strand.head }] : [],
  );

/** True of a link that leads to a slot to which nothing is linked: then nothing is linked here either. */
export function leadsNowhere(
  strandOf: (id: string) => Strand | undefined,
  { strand }: Pick<Tap, 'strand'>,
): boolean {
  const head = strandOf(strand)?.head;
  if (head?.type === 'tap') return leadsNowhere(strandOf, head);
  return head?.type === 'input' && (!head.from || leadsNowhere(strandOf, head.from));
}

/** Links of a step: its own, and those of the slots of a recipe, by the ids of the strands that begin there. */
export function linksOf(doc: Finish, step: Step): Step['slots'] {
  if (!isUse(step)) return step.slots;
  const inputs = slotsOf(doc, step.id).flatMap(({ strand, head }) =>
    head.from ? [[strand.id, head.from]] : [],
  );
  return { ...step.slots, ...Object.fromEntries(inputs) };
}

type Driving = { use: Step; front: Front; drive: Drive };
type Drivings = ReadonlyMap<string, ReadonlyMap<string, Driving>>;
const known = new WeakMap<Finish, Drivings>();

function drivingsIn(doc: Finish): Drivings {
  const before = isDraft(doc) ? undefined : known.get(doc);
  if (before) return before;
  const all = new Map<string, Map<string, Driving>>();
  for (const { steps } of doc.strands)
    for (const use of steps)
      for (const front of use.front ?? [])
        for (const drive of front.drives) {
          const of = all.get(drive.step) ?? new Map<string, Driving>();
          all.set(drive.step, of.set(drive.value, { use, front, drive }));
        }
  if (!isDraft(doc)) known.set(doc, all);
  return all;
}

/** What controls on fronts of recipes drive the values of a step, by the values' keys. */
export const drivingsOf = (doc: Finish, stepId: string): ReadonlyMap<string, Driving> | undefined =>
  drivingsIn(doc).get(stepId);

/** What drives a value of a step, if something does. */
export const drivingOf = (doc: Finish, stepId: string, key: string): Driving | undefined =>
  drivingsOf(doc, stepId)?.get(key);
