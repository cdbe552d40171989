import { toast } from 'sonner';
import { type RecipeSummary, saveRecipe } from '@/api/recipes';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import type { Engine } from '@/browser/engine/engine';
import { fetchRecipe, linkedPasses, type Missing, passKindsOf, pictureOf } from '@/browser/recipes';
import type { ShotStore } from '@/browser/session/store';
import { andThen, edit } from '@/core/finish/edit';
import { contentsOf, usesAround } from '@/core/finish/uses';
import { closeUse } from '@/core/recipes/close';
import { type RecipeWords, recipeOf } from '@/core/recipes/recipe';
import { addRecipe, setOrigin } from '@/core/recipes/use';
import { t } from '../words/words';

/** Letters of a name that an id can have. */
const slug = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60) || 'recipe';

/** Folds or unfolds a recipe on the board. */
export function toggleFold(store: ShotStore, useId: string): void {
  const { unfolded, change, editing, selected, finish } = store.getState();
  const open = unfolded.includes(useId);
  change({
    // What is selected inside would unfold it again.
    ...(open && selected !== undefined && usesAround(finish, selected).includes(useId)
      ? { selected: useId }
      : {}),
    unfolded: open ? unfolded.filter((u) => u !== useId) : [...unfolded, useId],
    ...(open && editing === useId ? { editing: undefined } : {}),
  });
}

/** Begins or ends the changing of what is inside a recipe. */
export function toggleEditing(store: ShotStore, useId: string): void {
  const { editing, unfolded, change } = store.getState();
  if (editing === useId) change({ editing: undefined });
  else change({ editing: useId, unfolded: unfolded.includes(useId) ? unfolded : [...unfolded, useId] });
}

/**
 * Puts a recipe of the library onto a strand, linked to what the shot has of what it needs, and selects it; says which passes the shot lacks.
 */
export async function addRecipeHere(
  store: ShotStore,
  shot: Pick<ShotDetail, 'media' | 'width'>,
  { id, edition, name }: Pick<RecipeSummary, 'id' | 'edition' | 'name'>,
  at: { strand: string; index: number },
): Promise<void> {
  try {
    const recipe = await fetchRecipe(id, edition);
    const { edit: apply, change } = store.getState();
    let missing: readonly Missing[] = [];
    let use = '';
    const done = apply((doc) => {
      const steps = doc.strands.find((s) => s.id === at.strand)?.steps.length ?? 0;
      const added = addRecipe(
        doc,
        recipe,
        { ...at, index: Math.min(at.index, steps) },
        { linked: true, width: shot.width },
      );
      use = added.id;
      const links = linkedPasses(added.edit.apply(doc), added.id, shot);
      missing = links.missing;
      return links.edit ? andThen(added.edit, () => links.edit!) : added.edit;
    });
    if (!done) return;
    change({ selected: use });
    for (const { slot, pass } of missing)
      toast.warning(t`${name} needs ${pass} for ${slot}, which this shot lacks.`, {
        description: t`Link another pass or strand on its sheet, or leave it empty.`,
        duration: 12_000,
      });
  } catch (error) {
    toast.error((error as Error).message);
  }
}

type Saving = RecipeWords & {
  note: string;
  /** As a recipe of its own, though it came from another one. */
  asNew: boolean;
};

/**
 * Keeps a use in the library: as the next version of its recipe, or as a recipe of its own; from then on the use is that version. Gives the reason where
 * it cannot be kept.
 */
export async function saveUse(
  store: ShotStore,
  engine: Engine | undefined,
  shot: ShotDetail,
  useId: string,
  { note, asNew, ...words }: Saving,
): Promise<string | undefined> {
  const { edit: apply, frame } = store.getState();
  // What was linked inside from elsewhere becomes a slot first.
  const closed = edit(t`close the recipe`, (draft) => closeUse(draft, useId, passKindsOf(shot)));
  if (!apply({ ...closed, opens: true })) return store.getState().refusal?.problem;
  const { finish } = store.getState();
  const origin = contentsOf(finish, useId).use.recipe;
  const picture = engine && (await pictureOf(engine, finish, frame, shot.width).catch(() => undefined));
  const known = asNew ? undefined : origin;
  const about = {
    ...words,
    id: known?.id ?? slug(words.name),
    edition: (known?.version ?? 0) + 1,
    width: shot.width,
  };
  try {
    const recipe = recipeOf(finish, useId, picture ? { ...about, picture } : about);
    const saved = await request(saveRecipe, {
      body: { recipe, note, ...(known ? { after: known.version } : {}) },
    });
    apply(setOrigin(useId, { id: saved.id, version: saved.edition, linked: true }, words.name));
    store.getState().change({ editing: undefined });
    toast.success(t`${words.name} is in the library as version ${saved.edition}.`);
    return undefined;
  } catch (error) {
    return (error as Error).message;
  }
}
