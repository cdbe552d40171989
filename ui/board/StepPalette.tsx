import { useState } from 'react';
import { addressOf } from '@/api/contract';
import { type RecipeSummary, readRecipePicture } from '@/api/recipes';
import { useRecipes } from '@/browser/recipes';
import type { Strand } from '@/core/finish/finish';
import { worksOn } from '@/core/finish/flow';
import { fitsAt, usualIndex } from '@/core/finish/usual-place';
import type { Kind } from '@/core/picture/kind';
import { kindsOf, type StepSpec } from '@/core/steps/define';
import { steps } from '@/core/steps/registry';
import { Modal } from '../parts/Modal';
import { nameRank } from './search';

type Props = {
  strand: Strand;
  index: number;
  /** Kind that the strand carries there. */
  kind: Kind;
  onPick(type: string, index: number): void;
  onRecipe(recipe: RecipeSummary, index: number): void;
  onClose(): void;
};

/** The steps there are, by name or by what they are for; what has them in its name comes first, then what fits this place. */
export function StepPalette({ strand, index, kind, onPick, onRecipe, onClose }: Props) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const wanted = words.toLowerCase().split(/\s+/);
  const found = steps.filter((s) =>
    wanted.every((w) => `${s.name} ${s.description} ${s.stage}`.toLowerCase().includes(w)),
  );
  const works = (type: string) => worksOn(type, kind);
  const fitting = (type: string) => works(type) && fitsAt(strand, index, type);
  const order = ({ id, name }: StepSpec) =>
    (works(id) ? 0 : 100) + nameRank(name, words) * 10 + (fitting(id) ? 0 : 1);
  const fits = [...found].sort((a, b) => order(a) - order(b));
  const recipes = useRecipes().recipes.filter((r) =>
    wanted.every((w) => `${r.name} ${r.description} ${r.tags.join(' ')} recipe`.toLowerCase().includes(w)),
  );
  // What is typed may name a recipe: it then stands before steps that only mention the words.
  const named = words.trim() === '' ? [] : recipes.filter((r) => nameRank(r.name, words) < 2);
  const [before, after] = [named, recipes.filter((r) => !named.includes(r))];
  const rows = [
    ...before.map((recipe) => ({ recipe })),
    ...fits.map((spec) => ({ spec })),
    ...after.map((recipe) => ({ recipe })),
  ];
  const chosen = Math.min(at, rows.length - 1);
  const take = (row: (typeof rows)[number] | undefined, usual: boolean) => {
    if (!row) return;
    if ('recipe' in row) onRecipe(row.recipe, index);
    else onPick(row.spec.id, usual ? usualIndex(strand, row.spec.id).index : index);
  };
  return (
    <Modal label="Add a step" box="w-[28rem] p-3" atTop onClose={onClose}>
      <input
        className="input input-sm w-full"
        placeholder="What should happen here?"
        aria-label="Search steps"
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(rows.length - 1, chosen + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (e.key === 'Enter' && rows[chosen]) take(rows[chosen], e.shiftKey);
          else return;
          e.preventDefault();
        }}
      />
      <ul className="mt-2 grid max-h-[60vh] gap-1 overflow-y-auto">
        {rows.map((row, i) => {
          if ('recipe' in row)
            return (
              <RecipeRow
                key={`recipe ${row.recipe.id}`}
                recipe={row.recipe}
                chosen={i === chosen}
                onPick={() => onRecipe(row.recipe, index)}
              />
            );
          const s = row.spec;
          const usual = usualIndex(strand, s.id);
          return (
            <li key={s.id} className={`rounded ${i === chosen ? 'bg-base-300' : ''}`}>
              <button
                type="button"
                className="block w-full cursor-pointer px-2 py-1.5 text-left"
                onClick={() => onPick(s.id, index)}
              >
                <span className="font-medium">{s.name}</span>
                <span className="float-right text-xs text-quiet capitalize">{s.stage}</span>
                <span className="block text-xs text-quiet">{s.description}</span>
              </button>
              {!works(s.id) && (
                <span className="block px-2 pb-1.5 text-xs text-secondary">
                  Inactive here: the strand carries a {kind}, and the step accepts {kindsOf(s).join(' or ')}.
                </span>
              )}
              {works(s.id) && !fitting(s.id) && (
                <button
                  type="button"
                  className="block w-full cursor-pointer px-2 pb-1.5 text-left text-xs text-secondary hover:underline"
                  title="Shift Enter"
                  onClick={() => onPick(s.id, usual.index)}
                >
                  Usually {usual.why}. Put it there
                </button>
              )}
            </li>
          );
        })}
        {rows.length === 0 && (
          <li className="px-2 py-3 text-sm text-quiet">No step or recipe is called that or does that.</li>
        )}
      </ul>
    </Modal>
  );
}

type RowProps = { recipe: RecipeSummary; chosen: boolean; onPick(): void };

/** A recipe of the library among the steps. */
function RecipeRow({ recipe, chosen, onPick }: RowProps) {
  const { id, edition, name, description, picture } = recipe;
  return (
    <li className={`rounded ${chosen ? 'bg-base-300' : ''}`}>
      <button
        type="button"
        className="flex w-full cursor-pointer items-start gap-2 px-2 py-1.5 text-left"
        onClick={onPick}
      >
        {picture && (
          <img
            src={addressOf(readRecipePicture, { params: { recipe: id, edition } })}
            alt=""
            className="mt-0.5 h-9 w-16 shrink-0 rounded-sm object-cover"
          />
        )}
        <span className="min-w-0 flex-1">
          <span className="font-medium">{name}</span>
          <span className="float-right text-xs text-secondary">Recipe</span>
          <span className="block text-xs text-quiet">{description}</span>
        </span>
      </button>
    </li>
  );
}
