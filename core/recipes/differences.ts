import { type Finish, type Step, type Strand, specOf, stepName } from '../finish/finish';
import { localIds, packedUse } from '../finish/packed';
import { contentsOf } from '../finish/uses';
import type { Recipe } from './recipe';

/** What is different inside a use from the recipe that it came from. */

export type Difference = {
  /** The step or strand of the finish that it is about, where it is still there. */
  at?: string;
  /** In a few words, such as “Radius of Glow: 40, in the recipe 24”. */
  words: string;
};

const same = (a: unknown, b: unknown) => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** The order of keys says nothing. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([k, v]) => [k, sorted(v)]),
  );
}

const short = (value: unknown): string =>
  typeof value === 'number'
    ? String(Number(value.toPrecision(4)))
    : Array.isArray(value)
      ? value.every((n) => typeof n === 'number')
        ? value.map((n) => Number(n.toPrecision(3))).join(' ')
        : `${value.length} rows`
      : typeof value === 'boolean'
        ? value
          ? 'on'
          : 'off'
        : String(value);

function ofStep(now: Step, then: Step): string[] {
  const name = stepName(now);
  const out: string[] = [];
  const specs = specOf(now)?.values ?? {};
  for (const [key, spec] of Object.entries(specs))
    if (!same(now.values[key], then.values[key]))
      out.push(
        `${spec.name} of ${name}: ${short(now.values[key])}, in the recipe ${short(then.values[key])}`,
      );
  for (const [key, spec] of Object.entries(specs))
    if (!same(now.animation?.[key], then.animation?.[key])) out.push(`Keys of ${spec.name} of ${name}`);
  if (now.bypass !== then.bypass) out.push(`${name} is ${now.bypass ? 'bypassed' : 'not bypassed'}`);
  if (!same(now.slots, then.slots)) out.push(`Links of ${name}`);
  if (!same(now.name, then.name) || !same(now.note, then.note)) out.push(`Words of ${name}`);
  if (!same(now.front, then.front)) out.push(`The front of ${name}`);
  return out;
}

function ofStrand(now: Strand, then: Strand, at: (local: string) => string): Difference[] {
  const out: Difference[] = [];
  const say = (local: string | undefined, words: string) =>
    out.push({ ...(local === undefined ? {} : { at: at(local) }), words });
  for (const step of now.steps) {
    const before = then.steps.find((s) => s.id === step.id);
    if (!before) say(step.id, `${stepName(step)} is not in the recipe`);
    else if (before.type !== step.type) say(step.id, `${stepName(step)} is another step in the recipe`);
    else for (const words of ofStep(step, before)) say(step.id, words);
  }
  for (const step of then.steps)
    if (!now.steps.some((s) => s.id === step.id))
      say(undefined, `${stepName(step)} of the recipe is not here`);
  const common = (a: Strand, b: Strand) =>
    a.steps.map((s) => s.id).filter((id) => b.steps.some((s) => s.id === id));
  if (!same(common(now, then), common(then, now))) say(undefined, `The order of steps on ${now.name}`);
  if (!same(now.head, then.head)) say(now.id, `The head of ${now.name}`);
  return out;
}

/** Everything that a use has inside, and on its front, other than the recipe; none where both are the same. */
export function differences(doc: Finish, useId: string, recipe: Recipe): Difference[] {
  const now = packedUse(doc, useId);
  const { strand: host } = contentsOf(doc, useId);
  const byLocal = new Map([...localIds(doc, useId)].map(([id, local]) => [local, id]));
  const at = (local: string) => (local === now.main ? host.id : (byLocal.get(local) ?? useId));
  const out: Difference[] = [];
  for (const strand of now.strands) {
    const then = recipe.inside.strands.find((s) => s.id === strand.id);
    if (!then) out.push({ at: at(strand.id), words: `The strand ${strand.name} is not in the recipe` });
    else out.push(...ofStrand(strand, then, at));
  }
  for (const strand of recipe.inside.strands)
    if (!now.strands.some((s) => s.id === strand.id))
      out.push({ words: `The strand ${strand.name} of the recipe is not here` });
  const front = now.use.front ?? [];
  for (const f of front) {
    const then = recipe.front.find((g) => g.id === f.id);
    if (!then) out.push({ at: useId, words: `${f.name} on the front is not in the recipe` });
    else if (!same(f, then)) out.push({ at: useId, words: `${f.name} on the front` });
  }
  for (const f of recipe.front)
    if (!front.some((g) => g.id === f.id)) out.push({ words: `${f.name} of the front is not here` });
  if (!same(now.guides, recipe.inside.guides ?? [])) out.push({ words: 'Guides' });
  return out;
}

/** Values on the front of a use that are other than those of its recipe, by their keys: the shot's own. */
export function overridden({ front = [], values, animation }: Step): string[] {
  return front
    .filter((f) => animation?.[f.id] !== undefined || !same(values[f.id] ?? f.value.default, f.value.default))
    .map((f) => f.id);
}
