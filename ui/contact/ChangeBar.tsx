import { useState } from 'react';
import { toast } from 'sonner';
import type { After, Change, Tile } from '@/browser/contact/tiles';
import { fetchRecipe, useRecipes } from '@/browser/recipes';
import { outdatedUses, type Place, places } from '@/core/recipes/apply';
import { Options } from '../parts/Options';
import { t } from '../words/words';
import { looks, type SheetLook } from './looks';

type Props = {
  tiles: readonly Tile[];
  chosen: readonly number[];
  change: Change | undefined;
  afters: ReadonlyMap<number, After>;
  look: SheetLook;
  onLook(look: SheetLook): void;
  onChange(change: Change | undefined): void;
  onChoose(shots: readonly number[]): void;
  onAccept(): void;
};

/** What can be done with the chosen shots, and a change that is looked at before it is made. */
export function ChangeBar({
  tiles,
  chosen,
  change,
  afters,
  look,
  onLook,
  onChange,
  onChoose,
  onAccept,
}: Props) {
  const { recipes } = useRecipes();
  const [place, setPlace] = useState<Place>('camera');
  const [busy, setBusy] = useState(false);
  const all = tiles.length > 0 && chosen.length === tiles.length;
  const take = (
    id: string,
    edition: number,
    make: (recipe: Awaited<ReturnType<typeof fetchRecipe>>) => Change,
  ) =>
    fetchRecipe(id, edition).then(
      (recipe) => {
        onLook('after');
        onChange(make(recipe));
      },
      (error) => toast.error((error as Error).message),
    );
  const outdated = recipes.flatMap((r) => {
    const shots = tiles.filter((t) => outdatedUses(t.saved.document, r).length > 0).length;
    return shots > 0 ? [{ ...r, shots }] : [];
  });
  if (change) {
    const reached = [...afters.values()].filter((a) => a && 'document' in a).length;
    const what =
      change.type === 'recipe'
        ? change.recipe.name
        : change.type === 'update'
          ? t`Version ${change.recipe.edition} of ${change.recipe.name}`
          : change.type === 'finish'
            ? t`The finish ${change.from.saved.document.name} of ${change.from.shot.name}`
            : '';
    return (
      <div className="flex items-center gap-3 px-6 py-3 text-[13px]" role="status">
        <span>
          {t`${what}: ${reached === 0 ? t`no shot changes` : t`${reached} shots change`}. Nothing is saved yet.`}
        </span>
        {change.type === 'recipe' && (
          <select
            className="select select-xs w-44"
            aria-label={t`Where it goes`}
            value={change.place}
            onChange={(e) => {
              setPlace(e.target.value as Place);
              onChange({ ...change, place: e.target.value as Place });
            }}
          >
            <Options of={places} />
          </select>
        )}
        <div className="ml-auto flex gap-0.5" role="group" aria-label={t`What is shown`}>
          {(Object.keys(looks) as SheetLook[]).map((l) => (
            <button
              key={l}
              type="button"
              className={`btn btn-xs font-normal ${look === l ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`}
              aria-pressed={look === l}
              onClick={() => onLook(l)}
            >
              {looks[l]}
            </button>
          ))}
        </div>
        <button type="button" className="btn btn-sm" onClick={() => onChange(undefined)}>
          {t`Leave it`}
        </button>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={reached === 0 || busy}
          onClick={async () => {
            setBusy(true);
            await onAccept();
            setBusy(false);
          }}
        >
          {busy ? t`Saving…` : t`Accept`}
        </button>
      </div>
    );
  }
  const from = tiles.find((t) => t.shot.id === chosen[0]);
  return (
    <div className="flex flex-wrap items-center gap-3 px-6 py-3 text-[13px]">
      <button
        type="button"
        className="btn btn-xs btn-ghost font-normal"
        onClick={() => onChoose(all ? [] : tiles.map((t) => t.shot.id))}
      >
        {all ? t`Choose none` : t`Choose all`}
      </button>
      <span className="text-quiet">
        {chosen.length === 0
          ? t`Click pictures to choose shots.`
          : chosen.length === 1
            ? t`One shot chosen.`
            : t`${chosen.length} shots chosen.`}
      </span>
      {chosen.length > 0 && (
        <>
          <select
            className="select select-xs w-52"
            aria-label={t`Add a recipe`}
            value=""
            onChange={(e) => {
              const r = recipes.find((x) => x.id === e.target.value);
              if (r) void take(r.id, r.edition, (recipe) => ({ type: 'recipe', recipe, place }));
            }}
          >
            <option value="">{t`Add a recipe …`}</option>
            {recipes.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
          {from && chosen.length > 1 && (
            <button
              type="button"
              className="btn btn-xs btn-soft font-normal"
              title={t`The others get it as one more finish`}
              onClick={() => {
                onLook('after');
                onChange({ type: 'finish', from });
              }}
            >
              {t`The finish of ${from.shot.name} for the others`}
            </button>
          )}
        </>
      )}
      {outdated.map((r) => (
        <button
          key={r.id}
          type="button"
          className="btn btn-xs btn-soft btn-secondary font-normal"
          onClick={() => void take(r.id, r.edition, (recipe) => ({ type: 'update', recipe }))}
        >
          {t`${r.name}: version ${r.edition} for ${t`${r.shots} shots`} …`}
        </button>
      ))}
    </div>
  );
}
