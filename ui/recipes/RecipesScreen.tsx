'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { BookOpen, SearchX, Upload } from 'lucide-react';
import { type DragEvent, useEffect, useRef, useState } from 'react';
import { Toaster, toast } from 'sonner';
import { addressOf } from '@/api/contract';
import { type RecipeSummary, readRecipePicture } from '@/api/recipes';
import { useRecipes, useRefreshedRecipes } from '@/browser/recipes';
import { AppHeader } from '../parts/AppHeader';
import { State } from '../parts/State';
import { t } from '../words/words';
import { RecipePanel } from './RecipePanel';
import { importFiles, recipeFileEnding } from './recipe-files';
import { StepPresetList } from './StepPresetList';

/** The library of recipes. */
export function RecipesScreen() {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <Library />
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}

function Library() {
  const { recipes, problem, isLoading } = useRecipes();
  const refresh = useRefreshedRecipes();
  const [words, setWords] = useState('');
  const [tag, setTag] = useState<string>();
  const [chosen, setChosen] = useState<string>();
  const [dropping, setDropping] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  // The address may name one, as a link from a shot does.
  useEffect(() => setChosen(new URLSearchParams(location.search).get('recipe') ?? undefined), []);
  const choose = (id: string | undefined) => {
    setChosen(id);
    history.replaceState(null, '', id ? `/recipes?recipe=${encodeURIComponent(id)}` : '/recipes');
  };
  const take = async (files: readonly File[]) => {
    if (files.length === 0) return;
    const done = await importFiles(files);
    await refresh();
    for (const { words, failed } of done)
      failed ? toast.error(words, { duration: 12_000 }) : toast.success(words);
    const last = done.findLast((d) => !d.failed);
    if (last) choose(last.id);
  };
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setDropping(false);
    void take([...e.dataTransfer.files]);
  };
  const tags = [...new Set(recipes.flatMap((r) => r.tags))].sort();
  const wanted = words.toLowerCase().split(/\s+/);
  const found = recipes.filter(
    (r) =>
      (!tag || r.tags.includes(tag)) &&
      wanted.every((w) => `${r.name} ${r.description} ${r.tags.join(' ')}`.toLowerCase().includes(w)),
  );
  const open = recipes.find((r) => r.id === chosen);
  return (
    <main
      className={`grid h-dvh grid-rows-[auto_auto_minmax(0,1fr)] ${dropping ? 'ring-2 ring-primary ring-inset' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setDropping(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setDropping(false)}
      onDrop={drop}
    >
      <AppHeader title={t`Recipes`}>
        <input
          ref={input}
          type="file"
          accept=".json"
          multiple
          hidden
          aria-label={t`Recipe files`}
          onChange={(e) => {
            void take([...(e.target.files ?? [])]);
            e.target.value = '';
          }}
        />
        <button type="button" className="btn btn-sm" onClick={() => input.current?.click()}>
          <Upload size={15} /> {t`Import a recipe`}
        </button>
      </AppHeader>
      <div className="flex flex-wrap items-center gap-2 px-8 py-4">
        <input
          className="input input-sm w-72"
          placeholder={t`Name, tag, or what it does`}
          aria-label={t`Search recipes`}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {tags.map((t) => (
          <button
            key={t}
            type="button"
            className={`btn btn-xs font-normal ${tag === t ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`}
            aria-pressed={tag === t}
            onClick={() => setTag(tag === t ? undefined : t)}
          >
            {t}
          </button>
        ))}
      </div>
      <div className={`grid min-h-0 gap-6 px-8 ${open ? 'grid-cols-[minmax(0,1fr)_23rem]' : 'grid-cols-1'}`}>
        <div className="overflow-y-auto pb-8">
          {problem && (
            <State is="failed" title={t`The recipes could not be read`} words={problem}>
              <button type="button" className="btn btn-sm btn-primary" onClick={() => refresh()}>
                {t`Try again`}
              </button>
            </State>
          )}
          {isLoading && <State is="loading" title={t`Opening the library…`} />}
          {!isLoading && !problem && recipes.length === 0 && (
            <State
              is="empty"
              icon={BookOpen}
              title={t`No recipes yet`}
              words={t`In a shot, choose a step and make a recipe of it and its neighbours; then save it to the library. Or drop a file that ends in ${recipeFileEnding} here.`}
            />
          )}
          {recipes.length > 0 && found.length === 0 && (
            <State
              is="empty"
              icon={SearchX}
              title={t`No recipe has that name`}
              words={t`Names, notes and tags are searched.`}
            >
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  setWords('');
                  setTag(undefined);
                }}
              >
                {t`Show all`}
              </button>
            </State>
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-4" aria-label={t`Recipes`}>
            {found.map((r) => (
              <li key={r.id}>
                <RecipeCard
                  recipe={r}
                  chosen={r.id === chosen}
                  onChoose={() => choose(r.id === chosen ? undefined : r.id)}
                />
              </li>
            ))}
          </ul>
          <StepPresetList words={words} />
        </div>
        {open && <RecipePanel key={open.id} recipe={open} onClose={() => choose(undefined)} />}
      </div>
    </main>
  );
}

function RecipeCard({
  recipe,
  chosen,
  onChoose,
}: {
  recipe: RecipeSummary;
  chosen: boolean;
  onChoose(): void;
}) {
  const { id, edition, name, description, picture, tags, uses } = recipe;
  return (
    <button
      type="button"
      className={`block h-full w-full cursor-pointer overflow-hidden rounded-box border bg-base-100 text-left ${
        chosen ? 'border-primary ring-1 ring-primary' : 'border-line hover:border-primary'
      }`}
      aria-pressed={chosen}
      onClick={onChoose}
    >
      <span className="flex aspect-video items-center justify-center bg-neutral text-xs text-quiet">
        {picture ? (
          <img
            src={addressOf(readRecipePicture, { params: { recipe: id, edition } })}
            alt={t`What ${name} does`}
            className="h-full w-full object-cover"
          />
        ) : (
          t`No picture`
        )}
      </span>
      <span className="grid gap-1 px-3 py-2.5">
        <span className="flex items-baseline gap-2">
          <span className="font-medium">{name}</span>
          <span className="ml-auto text-xs whitespace-nowrap text-quiet">
            {t`version ${edition}`}
            {uses > 0 && ` · used ${uses} ×`}
          </span>
        </span>
        <span className="line-clamp-2 text-xs text-quiet">{description}</span>
        {tags.length > 0 && <span className="truncate text-xs text-secondary">{tags.join(' · ')}</span>}
      </span>
    </button>
  );
}
