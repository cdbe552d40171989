import { Fragment, type ReactNode, useEffect, useRef, useState } from 'react';
import { addressOf } from '@/api/contract';
import { type RecipeSummary, readRecipePicture } from '@/api/recipes';
import type { ShotDetail } from '@/api/shots';
import type { Thumbnail } from '@/browser/engine/answers';
import { useRecipes } from '@/browser/recipes';
import { useWorkspace, withRecent, workspace } from '@/browser/workspace/workspace';
import { freeId } from '@/core/finish/edit';
import { addStep } from '@/core/finish/edits';
import type { Strand } from '@/core/finish/finish';
import { firstLink, withFirstLink } from '@/core/finish/first-link';
import { worksOn } from '@/core/finish/flow';
import { fitsAt, stageReasons, usualIndex } from '@/core/finish/usual-place';
import type { Kind } from '@/core/picture/kind';
import { steps } from '@/core/steps/registry';
import { type Searchable, searched, searchRank } from '@/core/steps/search';
import { kindsOf, type Stage, type StepSpec, stages } from '@/core/steps/shared/define';
import { Modal } from '../parts/Modal';
import { PixelCanvas } from '../parts/PixelCanvas';
import { t } from '../words/words';
import { type Try, useTries } from './use-tries';

type Props = {
  strand: Strand;
  index: number;
  /** Kind that the strand carries there. */
  kind: Kind;
  shot: ShotDetail;
  onPick(type: string, index: number): void;
  onRecipe(recipe: RecipeSummary, index: number): void;
  onClose(): void;
};

type Row = { key: string; group: string; why?: string } & ({ spec: StepSpec } | { recipe: RecipeSummary });

/**
 * The steps there are, each with its picture on this frame. Without words: those used of late, then by stage, what fits this place first and why. With
 * words: what has them in its name comes first, then what fits.
 */
export function StepPalette({ strand, index, kind, shot, onPick, onRecipe, onClose }: Props) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const recent = useWorkspace((w) => w.recentSteps);
  const list = useRef<HTMLUListElement>(null);
  const works = (type: string) => worksOn(type, kind);
  const fitting = (type: string) => works(type) && fitsAt(strand, index, type);
  const { recipes } = useRecipes();
  const rowOf = (group: string, why?: string) => (spec: StepSpec) => ({
    key: `${group} ${spec.id}`,
    group,
    why,
    spec,
  });
  const recipeRow = (recipe: RecipeSummary): Row => ({
    key: `recipe ${recipe.id}`,
    group: t`Recipes`,
    recipe,
  });
  const rows: Row[] =
    words.trim() === ''
      ? [
          ...recent
            .map((id) => steps.find((s) => s.id === id))
            .filter((s) => s !== undefined && works(s.id))
            .slice(0, 4)
            .map((s) => rowOf(t`Used of late`)(s!)),
          ...stagesHere(strand, index, kind).flatMap((stage) => {
            const own = steps.filter((s) => s.stage === stage);
            return [...own.filter((s) => fitting(s.id)), ...own.filter((s) => !fitting(s.id))].map(
              rowOf(
                nameOfStage(stage),
                own.some((s) => fitting(s.id)) ? t`fits here: ${stageReasons[stage]}` : stageReasons[stage],
              ),
            );
          }),
          ...recipes.map(recipeRow),
        ]
      : foundRows([...steps.map(rowOf('')), ...recipes.map(recipeRow)], words, works, fitting);
  const chosen = Math.min(at, rows.length - 1);
  const tries = useTries(
    rows.flatMap((row) =>
      'spec' in row && works(row.spec.id) ? [tryOf(strand, index, row.spec.id, shot)] : [],
    ),
  );
  const pick = (type: string, place: number) => {
    workspace.setState(({ recentSteps }) => ({ recentSteps: withRecent(recentSteps, type) }));
    onPick(type, place);
  };
  const take = (row: Row | undefined, usual: boolean) => {
    if (!row) return;
    if ('recipe' in row) onRecipe(row.recipe, index);
    else pick(row.spec.id, usual ? usualIndex(strand, row.spec.id).index : index);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: when another one is chosen
  useEffect(() => {
    list.current?.querySelector('[data-chosen=true]')?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <Modal label={t`Add a step`} box="w-[34rem] p-3" atTop onClose={onClose}>
      <input
        className="input input-sm w-full"
        placeholder={t`What should happen here?`}
        aria-label={t`Search steps`}
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
      <ul ref={list} className="mt-2 grid max-h-[62vh] gap-1 overflow-y-auto" aria-label={t`Steps`}>
        {rows.map((row, i) => {
          const heads = row.group !== '' && row.group !== rows[i - 1]?.group;
          return (
            <Fragment key={row.key}>
              {heads && (
                <li className="mt-2 flex items-baseline gap-2 border-b border-line px-2 pb-1 text-xs first:mt-0">
                  <b>{row.group}</b>
                  {row.why && <span className="text-quiet">{row.why}</span>}
                </li>
              )}
              {'recipe' in row ? (
                <RecipeRow
                  recipe={row.recipe}
                  chosen={i === chosen}
                  onPick={() => onRecipe(row.recipe, index)}
                />
              ) : (
                <StepRow
                  spec={row.spec}
                  chosen={i === chosen}
                  picture={tries.get(row.spec.id)}
                  onPick={() => pick(row.spec.id, index)}
                >
                  {!works(row.spec.id) && (
                    <span className="block px-2 pb-1.5 text-xs text-secondary">
                      {t`Inactive here: the strand carries a ${kind}, and the step accepts ${kindsOf(row.spec).join(' or ')}.`}
                    </span>
                  )}
                  {works(row.spec.id) && !fitting(row.spec.id) && (
                    <UsualPlace strand={strand} type={row.spec.id} onPick={pick} />
                  )}
                </StepRow>
              )}
            </Fragment>
          );
        })}
        {rows.length === 0 && (
          <li className="px-2 py-3 text-sm text-quiet">{t`No step or recipe has that name or does that.`}</li>
        )}
      </ul>
    </Modal>
  );
}

const nameOfStage = (stage: Stage) => stage.replace(/^./, (c) => c.toUpperCase());

/** Stages in their order, those first that have a step which fits this place. */
function stagesHere(strand: Strand, index: number, kind: Kind): Stage[] {
  const fits = (stage: Stage) =>
    steps.some((s) => s.stage === stage && !s.anywhere && worksOn(s.id, kind) && fitsAt(strand, index, s.id));
  return [...stages.filter(fits), ...stages.filter((s) => !fits(s))];
}

const searchableRow = (row: Row): Searchable =>
  'recipe' in row
    ? { ...row.recipe, words: [...row.recipe.tags, 'recipe'] }
    : { ...row.spec, inside: [...Object.values(row.spec.values).map((v) => v.name), row.spec.stage] };

/** What fits the words, the best first: the very name before all that contains it; of what fits alike, what fits the place. */
function foundRows(
  rows: readonly Row[],
  words: string,
  works: (type: string) => boolean,
  fitting: (type: string) => boolean,
): Row[] {
  const inPlace = (row: Row) => ('recipe' in row ? 1 : fitting(row.spec.id) ? 0 : 2);
  const isOn = (row: Row) => 'recipe' in row || works(row.spec.id);
  const found = searched(
    [...rows].sort((a, b) => inPlace(a) - inPlace(b)),
    words,
    searchableRow,
  );
  // A step that cannot work on what comes to it stands last, but for the one that was named.
  const isNamed = (row: Row) => searchRank(searchableRow(row), words) === 0;
  return [...found.filter((r) => isNamed(r) || isOn(r)), ...found.filter((r) => !isNamed(r) && !isOn(r))];
}

/** The step at that place, as it would begin. */
const tryOf = (strand: Strand, index: number, type: string, shot: ShotDetail): Try => ({
  key: type,
  of: (doc) => {
    const id = freeId(doc, type);
    const link = firstLink(type, shot.media);
    const added = addStep(strand.id, index, type, id, shot.width);
    return {
      edit: link ? withFirstLink(added, id, link) : added,
      point: { strand: strand.id, after: id },
    };
  },
});

type StepRowProps = {
  spec: StepSpec;
  chosen: boolean;
  picture?: Thumbnail;
  onPick(): void;
  children: ReactNode;
};

function StepRow({ spec, chosen, picture, onPick, children }: StepRowProps) {
  return (
    <li className={`rounded ${chosen ? 'bg-base-300' : ''}`} data-chosen={chosen}>
      <button
        type="button"
        className="flex w-full cursor-pointer items-start gap-2 px-2 py-1.5 text-left"
        onClick={onPick}
      >
        <PixelCanvas picture={picture} className="mt-0.5 h-11 w-[78px] shrink-0 rounded-sm" />
        <span className="min-w-0 flex-1">
          <span className="font-medium">{spec.name}</span>
          <span className="float-right text-xs text-quiet capitalize">{spec.stage}</span>
          <span className="block text-xs text-quiet">{spec.description}</span>
        </span>
      </button>
      {children}
    </li>
  );
}

type UsualProps = { strand: Strand; type: string; onPick(type: string, index: number): void };

/** Where a step usually stands, and why, where that is not here. */
function UsualPlace({ strand, type, onPick }: UsualProps) {
  const usual = usualIndex(strand, type);
  return (
    <button
      type="button"
      className="block w-full cursor-pointer px-2 pb-1.5 text-left text-xs text-secondary hover:underline"
      title={t`Shift Enter`}
      onClick={() => onPick(type, usual.index)}
    >
      {t`Usually ${usual.why}. Put it there`}
    </button>
  );
}

type RowProps = { recipe: RecipeSummary; chosen: boolean; onPick(): void };

/** A recipe of the library among the steps. */
function RecipeRow({ recipe, chosen, onPick }: RowProps) {
  const { id, edition, name, description, picture } = recipe;
  return (
    <li className={`rounded ${chosen ? 'bg-base-300' : ''}`} data-chosen={chosen}>
      <button
        type="button"
        className="flex w-full cursor-pointer items-start gap-2 px-2 py-1.5 text-left"
        onClick={onPick}
      >
        {picture && (
          <img
            src={addressOf(readRecipePicture, { params: { recipe: id, edition } })}
            alt=""
            className="mt-0.5 h-11 w-[78px] shrink-0 rounded-sm object-cover"
          />
        )}
        <span className="min-w-0 flex-1">
          <span className="font-medium">{name}</span>
          <span className="float-right text-xs text-secondary">{t`Recipe`}</span>
          <span className="block text-xs text-quiet">{description}</span>
        </span>
      </button>
    </li>
  );
}
