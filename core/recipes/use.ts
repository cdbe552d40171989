import { type Edit, edit, freeId, plainOf, tapsOf } from '../finish/edit';
import type { Finish, Step } from '../finish/finish';
import { specOfFront } from '../finish/front';
import { dropInside, localIds, packedLinks, unpack } from '../finish/packed';
import { contentsOf } from '../finish/uses';
import type { ValueSpec } from '../steps/shared/define';
import { within } from '../time/track';
import { packedOf, type Recipe } from './recipe';
import { scaledRecipe } from './scale';

/** Recipes on a strand: a new use, and another version in the place of the one that is there. */

/** Puts a recipe at `index` of a strand as one step, in pictures `width` pixels wide. `links` are links of its slots, by the ids of the strands that begin there. */
export function addRecipe(
  doc: Finish,
  recipe: Recipe,
  at: { strand: string; index: number },
  { linked, links, width }: { linked: boolean; links?: Step['slots']; width?: number },
): { edit: Edit; id: string } {
  const id = freeId(doc, recipe.id);
  return {
    id,
    edit: edit(`add ${recipe.name}`, (draft) =>
      unpack(draft, packedOf(scaledRecipe(recipe, width), linked), at, id, { links }),
    ),
  };
}

/** Front controls that another version of a recipe does not have any more, and new ones, by their names. */
type FrontChanges = { gone: string[]; fresh: string[] };

export function frontChanges(before: Step['front'] = [], after: Step['front'] = []): FrontChanges {
  const has = (list: NonNullable<Step['front']>, id: string) => list.some((f) => f.id === id);
  return {
    gone: before.filter((f) => !has(after, f.id)).map((f) => f.name),
    fresh: after.filter((f) => !has(before, f.id)).map((f) => f.name),
  };
}

/** A value as another declaration allows it; its default where it is of another type. */
function fitting(spec: ValueSpec, value: Step['values'][string] | undefined): Step['values'][string] {
  if (value === undefined) return spec.default;
  if (spec.type === 'number') return typeof value === 'number' ? within(spec, value) : spec.default;
  if (spec.type === 'choice')
    return typeof value === 'string' && Object.hasOwn(spec.options, value) ? value : spec.default;
  return typeof value === typeof spec.default && Array.isArray(value) === Array.isArray(spec.default)
    ? value
    : spec.default;
}

/**
 * Another version of a recipe in the place of what is inside a use. What the shot has of its own stays: values and keys on the front by their ids, amount
 * and mask, and the links of slots by their strands. Who took from a step that is gone takes what the recipe gives.
 */
export function updateUse(useId: string, recipe: Recipe): Edit {
  return {
    ...edit(`take version ${recipe.edition} of ${recipe.name}`, (draft) => {
      const was = contentsOf(draft, useId);
      const host = was.strand;
      const before = plainOf(was.use);
      const byLocal = new Map([...localIds(plainOf(draft), useId)].map(([id, local]) => [local, id]));
      const links = packedLinks(plainOf(draft), useId);
      dropInside(draft, useId);
      host.steps.splice(was.first, was.last - was.first + 1);
      const packed = packedOf(recipe, before.recipe?.linked ?? true);
      const idOf = (local: string) => byLocal.get(local) ?? `${useId}.${local}`;
      unpack(draft, packed, { strand: host.id, index: was.first }, useId, { links, idOf });
      const { use } = contentsOf(draft, useId);
      const { amount, invert } = before.values;
      Object.assign(use, {
        name: before.name,
        bypass: before.bypass,
        ...(before.note === undefined ? {} : { note: before.note }),
        values: { ...use.values, amount, invert },
      });
      const kept: NonNullable<Step['animation']> = {};
      if (before.animation?.amount) kept.amount = before.animation.amount;
      for (const front of recipe.front) {
        const old = before.front?.find((f) => f.id === front.id);
        if (!old || old.value.type !== front.value.type) continue;
        // What stood at its default goes with the new one.
        if (JSON.stringify(before.values[front.id]) !== JSON.stringify(old.value.default))
          use.values[front.id] = fitting(specOfFront(front), before.values[front.id]);
        const track = before.animation?.[front.id];
        if (track) kept[front.id] = track;
      }
      if (Object.keys(kept).length > 0) use.animation = kept;
      relinkGone(draft, host.id, useId);
    }),
    opens: true,
  };
}

/** Links to what is not there any more lead to what the recipe gives. */
function relinkGone(draft: Finish, hostId: string, useId: string): void {
  const points = new Map(
    draft.strands.map((s) => [s.id, new Set(['head', 'end', ...s.steps.map((t) => t.id)])]),
  );
  for (const tap of tapsOf(draft)) {
    const there = points.get(tap.strand);
    if (there?.has(tap.after)) continue;
    if (there && tap.strand !== hostId) {
      tap.after = 'end';
      continue;
    }
    Object.assign(tap, { strand: hostId, after: useId });
  }
}

/** Links a use to the library or not: whether it follows newer versions. */
export const setLinked = (doc: Finish, useId: string, linked: boolean): Edit => {
  const { use } = contentsOf(doc, useId);
  return edit(`${linked ? 'link' : 'unlink'} ${use.name ?? 'the recipe'}`, (draft) => {
    const { recipe } = contentsOf(draft, useId).use;
    if (recipe) recipe.linked = linked;
  });
};

/** Says which recipe of the library a use is, and in which version. */
export const setOrigin = (useId: string, recipe: Step['recipe'], name: string): Edit =>
  edit(`save the recipe ${name}`, (draft) => {
    const { use } = contentsOf(draft, useId);
    use.name = name;
    use.recipe = recipe && { ...recipe };
  });
