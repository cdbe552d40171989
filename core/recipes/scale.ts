import { type Step, specOf } from '../finish/finish';
import type { Drive, Front } from '../finish/front';
import type { NumberSpec } from '../steps/shared/define';
import type { Recipe } from './recipe';

/** Recipes in pictures of another width than they were made for. */

const rounded = (v: number) => Number(v.toPrecision(4));
const inside = ({ from, to }: Pick<NumberSpec, 'from' | 'to'>, v: number) =>
  Math.min(to, Math.max(from, rounded(v)));

/** The declaration of a number inside that a control drives. */
function numberOf(steps: ReadonlyMap<string, Step>, { step, value }: Drive): NumberSpec | undefined {
  const spec = specOf(steps.get(step) ?? { type: '' })?.values[value];
  return spec?.type === 'number' ? spec : undefined;
}

/** How a control drives a value where its own numbers become `own` times as large, and those of the value `other` times. */
function drive(d: Drive, own: number, other: number): Drive {
  if (d.curve) return { ...d, curve: d.curve.map(([x, y]) => [x * own, y * other] as const) };
  const factor = rounded(((d.factor ?? 1) * other) / own);
  const { factor: _, ...rest } = d;
  return factor === 1 ? rest : { ...rest, factor };
}

/** A control whose lengths are `k` times as long. */
function control(front: Front, k: number, isLength: (d: Drive) => boolean): Front {
  const { value } = front;
  if (value.type !== 'number') return front;
  const own = value.unit === 'px' ? k : 1;
  const drives = front.drives.map((d) => drive(d, own, isLength(d) ? k : 1));
  if (own === 1) return { ...front, drives };
  const bounds = { from: Math.min(value.from, value.from * k), to: Math.max(value.to, value.to * k) };
  const soft = [rounded(value.soft[0] * k), rounded(value.soft[1] * k)] as const;
  return {
    ...front,
    drives,
    value: { ...value, ...bounds, soft, default: inside(bounds, value.default * k) },
  };
}

/**
 * The recipe for pictures `width` pixels wide: lengths on its front, and those that its front drives, are as long in parts of the picture as in those
 * that it was made for. What a length drives besides (a saturation, an amount) stays what it is. The recipe itself where it says no width.
 */
export function scaledRecipe(recipe: Recipe, width: number | undefined): Recipe {
  if (!width || !recipe.width || width === recipe.width) return recipe;
  const k = width / recipe.width;
  const steps = new Map(recipe.inside.strands.flatMap((s) => s.steps).map((s) => [s.id, s]));
  const isLength = (d: Drive) => numberOf(steps, d)?.unit === 'px';
  const driven = recipe.front
    .filter((f) => f.value.type === 'number')
    .flatMap((f) => f.drives)
    .filter(isLength);
  const scaledStep = (step: Step): Step => {
    const own = driven.filter((d) => d.step === step.id);
    if (own.length === 0) return step;
    const values = Object.fromEntries(
      own.map((d) => [d.value, inside(numberOf(steps, d)!, (step.values[d.value] as number) * k)]),
    );
    return { ...step, values: { ...step.values, ...values } };
  };
  return {
    ...recipe,
    width,
    front: recipe.front.map((f) => control(f, k, isLength)),
    inside: {
      ...recipe.inside,
      strands: recipe.inside.strands.map((s) => ({ ...s, steps: s.steps.map(scaledStep) })),
    },
  };
}
