import * as v from 'valibot';
import type { Knot } from '../math/monotone';
import { monotoneCurve } from '../math/monotone';
import { recipe } from '../steps/recipe';
import { stepSpec } from '../steps/registry';
import type { Handle, StepSpec, Value, ValueSpec, ValueSpecs } from '../steps/shared/define';
import { within } from '../time/track';
import { finite, id, name } from './basic-schema';

/** The front of a recipe: the values that stand there, and what each of them drives inside. */

const text = v.pipe(v.string(), v.maxLength(300));
const bounds = v.pipe(v.tuple([finite, finite]), v.readonly());
const number = v.pipe(
  v.strictObject({
    type: v.literal('number'),
    unit: v.picklist(['px', 'light', 'ratio', 'degrees', 'scene']),
    default: finite,
    from: finite,
    to: finite,
    /** What the slider spans. */
    soft: bounds,
    whole: v.optional(v.literal(true)),
  }),
  v.check((n) => n.from < n.to && n.soft[0] < n.soft[1], 'A range goes from less to more'),
  v.check((n) => n.default >= n.from && n.default <= n.to, 'A default lies in its range'),
);
const rgb = v.pipe(v.tuple([finite, finite, finite]), v.readonly());
const frontValue = v.variant('type', [
  number,
  v.strictObject({ type: v.literal('colour'), default: rgb }),
  v.strictObject({ type: v.literal('toggle'), default: v.boolean() }),
  v.strictObject({
    type: v.literal('choice'),
    options: v.record(v.string(), text),
    default: v.string(),
  }),
]);

/**
 * A number inside is what it is there, and `factor` times what the front value is more than its default; or what `curve` makes of the front value, a
 * monotone curve through its points. Other values are taken over.
 */
const drive = v.strictObject({
  /** A step inside, by its id. */
  step: id,
  value: v.pipe(v.string(), v.maxLength(60)),
  factor: v.optional(finite),
  curve: v.optional(
    v.pipe(
      v.array(bounds),
      v.minLength(2, 'A curve needs two points'),
      v.maxLength(16),
      v.check(
        (points) => points.every(([x], i) => i === 0 || x - points[i - 1][0] > 1e-6),
        'Points of a curve stand out of order',
      ),
      v.readonly(),
    ),
  ),
});

const control = v.strictObject({
  id: v.pipe(
    id,
    v.check((given) => !(given in recipe.values), 'The ids “amount” and “invert” belong to every recipe'),
  ),
  name,
  description: v.optional(text),
  value: frontValue,
  drives: v.pipe(v.array(drive), v.minLength(1, 'A front control drives a value'), v.maxLength(32)),
});
export const frontSchema = v.pipe(v.array(control), v.maxLength(40, 'A front has at most 40 controls'));

export type Front = v.InferOutput<typeof control>;
export type Drive = Front['drives'][number];

/** A front control as the declaration of a value. */
export function specOfFront({ name, description = '', value }: Front): ValueSpec {
  return { ...value, name, description, section: 'change' } as ValueSpec;
}

/** Two controls in pixels whose ids end in -x and -y are a point on the picture. */
const handlesOf = (front: readonly Front[]): Handle[] =>
  front.flatMap(({ id: x, name, value }): Handle[] => {
    const y = x.replace(/-x$/, '-y');
    const other = front.find((f) => f.id === y && y !== x);
    const isPoint = [value, other?.value].every((v) => v?.type === 'number' && v.unit === 'px');
    return isPoint ? [{ type: 'point', name: name.replace(/ x$/i, ''), x, y }] : [];
  });

const made = new WeakMap<readonly Front[], StepSpec>();

/** The declaration of a use of a recipe: its front, then its master amount. */
export function recipeSpec(front: readonly Front[] = []): StepSpec {
  const known = made.get(front);
  if (known) return known;
  const own: ValueSpecs = Object.fromEntries(front.map((f) => [f.id, specOfFront(f)]));
  const spec = {
    ...recipe,
    values: { amount: recipe.values.amount, ...own, ...recipe.values },
    handles: handlesOf(front),
  };
  made.set(front, spec);
  return spec;
}

/** The declaration of a step as it stands in a document; undefined where this version of Zafiro has no such step. */
export const specOf = (step: { type: string; front?: readonly Front[] }): StepSpec | undefined =>
  step.type === recipe.id ? recipeSpec(step.front) : stepSpec(step.type);

/** The same as a value that its declaration allows. */
export function settledBy(spec: ValueSpec, front: Front, drive: Drive, now: Value, own: Value): Value {
  const made = driven(front, drive, now, own);
  return spec.type === 'number' ? within(spec, made as number) : made;
}

/** What a front control makes of a value inside; `own` is what it is there. */
export function driven({ value: spec }: Front, { factor = 1, curve }: Drive, now: Value, own: Value): Value {
  if (spec.type !== 'number') return now;
  if (curve) return monotoneCurve(curve as readonly Knot[]).at(now as number);
  if (factor === 1 && own === spec.default) return now;
  return (own as number) + factor * ((now as number) - spec.default);
}
