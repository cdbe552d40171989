import { ChevronRight, FoldVertical, PencilLine, Save, UnfoldVertical, Unlink2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useRecipe, useRecipes } from '@/browser/recipes';
import { useShot, useShotStore } from '@/browser/session/store';
import type { Step } from '@/core/finish/finish';
import { differences } from '@/core/recipes/differences';
import { freeRecipe } from '@/core/recipes/free';
import type { Recipe } from '@/core/recipes/recipe';
import { scaledRecipe } from '@/core/recipes/scale';
import { frontChanges, setLinked, updateUse } from '@/core/recipes/use';
import { t } from '../words/words';
import { SaveRecipe } from './SaveRecipe';
import { toggleEditing, toggleFold } from './use-tools';

const listed = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

/** What a use is of the library, and what can be done with it as a whole. */
export function UseFields({ use, shot }: { use: Step; shot: ShotDetail }) {
  const store = useShotStore();
  const edit = useShot((s) => s.edit);
  const unfolded = useShot((s) => s.unfolded.includes(use.id));
  const editing = useShot((s) => s.editing === use.id);
  const [saving, setSaving] = useState<'new' | 'version'>();
  const { recipes } = useRecipes();
  const newest = recipes.find((r) => r.id === use.recipe?.id);
  const isNewer = newest !== undefined && use.recipe !== undefined && newest.edition > use.recipe.version;
  const button = 'btn btn-xs btn-soft font-normal';
  return (
    <section className="grid gap-2 border-b border-line px-4 py-2.5 text-[13px]" aria-label={t`Recipe`}>
      <p className="text-xs text-quiet">
        {newest?.description || t`Its steps as one, with one amount for all of them.`}
      </p>
      <div className="flex flex-wrap gap-1.5">
        <button
          type="button"
          className={button}
          aria-pressed={unfolded}
          onClick={() => toggleFold(store, use.id)}
        >
          {unfolded ? <FoldVertical size={13} /> : <UnfoldVertical size={13} />}{' '}
          {unfolded ? t`Fold` : t`Unfold`}
        </button>
        <button
          type="button"
          className={`${button} ${editing ? 'btn-primary' : ''}`}
          aria-pressed={editing}
          onClick={() => toggleEditing(store, use.id)}
        >
          <PencilLine size={13} /> {editing ? t`Done` : t`Edit inside`}
        </button>
        <button type="button" className={button} onClick={() => setSaving(newest ? 'version' : 'new')}>
          <Save size={13} /> {newest ? t`Update the recipe …` : t`Save to the library …`}
        </button>
        <button
          type="button"
          className={button}
          title={t`Leaves its steps on the strand as steps like any others`}
          onClick={() => {
            if (edit((doc) => freeRecipe(doc, use.id))) store.getState().change({ editing: undefined });
          }}
        >
          <Unlink2 size={13} /> {t`Free it`}
        </button>
      </div>
      {use.recipe && newest && (
        <label className="flex items-center gap-2 text-xs text-quiet">
          {t`Version ${use.recipe.version} of ${newest.name}`}
          <span className="ml-auto">{t`Follow newer versions`}</span>
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={use.recipe.linked}
            onChange={(e) => edit((doc) => setLinked(doc, use.id, e.target.checked))}
          />
        </label>
      )}
      {use.recipe && recipes.length > 0 && !newest && (
        <p className="text-xs text-quiet">
          {t`Its recipe is not in this library. All of it is inside this finish.`}
        </p>
      )}
      {isNewer && use.recipe?.linked && <NewVersion use={use} edition={newest.edition} />}
      {use.recipe && newest && <Differences use={use} origin={use.recipe} />}
      {newest && editing && (
        <button
          type="button"
          className="btn btn-ghost btn-xs w-fit text-quiet"
          onClick={() => setSaving('new')}
        >
          {t`Save as a recipe of its own …`}
        </button>
      )}
      {saving && (
        <SaveRecipe
          useId={use.id}
          shot={shot}
          asNew={saving === 'new'}
          onClose={() => setSaving(undefined)}
        />
      )}
    </section>
  );
}

/** A newer version of the recipe: what changes on the front, how it looks, and taking it. */
function NewVersion({ use, edition }: { use: Step; edition: number }) {
  const store = useShotStore();
  const { recipe, problem } = useRecipe(use.recipe?.id, edition);
  const previewing = useShot((s) => s.preview?.label.startsWith('take version') ?? false);
  if (!recipe)
    return <p className="text-xs text-secondary">{problem ?? t`Version ${edition} is on its way.`}</p>;
  const { gone, fresh } = frontChanges(use.front, recipe.front);
  const show = (on: boolean) => preview(store, use, on ? recipe : undefined);
  return (
    <div role="status" className="grid gap-1.5 rounded border border-secondary/60 px-2 py-1.5 text-xs">
      <span>
        {t`Version ${edition} of ${recipe.name} is there.`}
        {fresh.length > 0 && t` New on the front: ${listed(fresh)}.`}
        {gone.length > 0 && t` Not on it any more: ${listed(gone)}.`}
      </span>
      <span className="flex gap-1.5">
        <button
          type="button"
          className="btn btn-xs"
          aria-pressed={previewing}
          onClick={() => show(!previewing)}
        >
          {previewing ? t`As it is` : t`Before and after`}
        </button>
        <button
          type="button"
          className="btn btn-xs btn-primary"
          onClick={() => {
            show(false);
            store.getState().edit(updateUse(use.id, scaledRecipe(recipe, store.getState().size.width)));
          }}
        >
          {t`Take it`}
        </button>
      </span>
    </div>
  );
}

/** Shows a shot with another version of a recipe beside how it is now, or as it is again. */
function preview(store: ReturnType<typeof useShotStore>, use: Step, recipe: Recipe | undefined) {
  const { change, finish, frame, compare } = store.getState();
  if (recipe)
    change({
      preview: updateUse(use.id, scaledRecipe(recipe, store.getState().size.width)),
      still: { finish, point: { strand: finish.main, after: 'end' }, frame },
      compare: { ...compare, mode: 'wipe', with: 'still' },
      shows: 'finished',
    });
  else change({ preview: undefined, compare: { ...compare, mode: 'off' } });
}

/** What this shot has inside other than the recipe, and the way back. */
function Differences({ use, origin }: { use: Step; origin: NonNullable<Step['recipe']> }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const width = useShot((s) => s.size.width);
  const { recipe: asMade } = useRecipe(origin.id, origin.version);
  const recipe = useMemo(() => asMade && scaledRecipe(asMade, width), [asMade, width]);
  const found = useMemo(() => (recipe ? differences(finish, use.id, recipe) : []), [finish, use.id, recipe]);
  if (!recipe || found.length === 0) return null;
  return (
    <details className="text-xs">
      <summary className="flex cursor-pointer list-none items-center gap-1 text-secondary">
        <ChevronRight size={12} className="[[open]>summary>&]:rotate-90" />
        {t`${found.length} differences from version ${origin.version}`}
      </summary>
      <ul className="mt-1 grid gap-0.5 pl-4" aria-label={t`Differences`}>
        {found.map(({ at, words }, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same words may come twice
          <li key={i}>
            {at ? (
              <button
                type="button"
                className="cursor-pointer text-left hover:underline"
                onClick={() => change({ selected: at })}
              >
                {words}
              </button>
            ) : (
              words
            )}
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-ghost btn-xs mt-1"
        onClick={() => edit(updateUse(use.id, recipe))}
      >
        {t`Back to the recipe`}
      </button>
    </details>
  );
}
