import { useQuery } from '@tanstack/react-query';
import { Download, Trash2, X } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { addressOf } from '@/api/contract';
import { changeRecipe, deleteRecipe, type RecipeSummary, readRecipe, readRecipePicture } from '@/api/recipes';
import { request } from '@/api/request';
import { useRefreshedRecipes } from '@/browser/recipes';
import { DialogEnd } from '../parts/DialogEnd';
import { IconButton } from '../parts/IconButton';
import { Modal } from '../parts/Modal';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';
import { exportRecipe } from './recipe-files';

const said = (date: string) =>
  new Date(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** All of one recipe: its words, versions, and where it is used. */
export function RecipePanel({ recipe, onClose }: { recipe: RecipeSummary; onClose(): void }) {
  const { id, edition, name } = recipe;
  const refresh = useRefreshedRecipes();
  const [deleting, setDeleting] = useState(false);
  const { data, error } = useQuery({
    queryKey: ['recipes', id, 'detail', edition],
    queryFn: () => request(readRecipe, { params: { recipe: id } }),
  });
  const change = (words: Partial<Pick<RecipeSummary, 'name' | 'description' | 'tags' | 'licence'>>) => {
    request(changeRecipe, { params: { recipe: id }, body: words }).then(refresh, (e) =>
      toast.error(e.message),
    );
    return undefined;
  };
  const save = (version: number) => exportRecipe(id, version).catch((e) => toast.error((e as Error).message));
  return (
    <aside
      className="mb-8 overflow-y-auto rounded-box border border-line bg-base-100 text-[13px]"
      aria-label={t`Recipe ${name}`}
    >
      {recipe.picture && (
        <img
          src={addressOf(readRecipePicture, { params: { recipe: id, edition } })}
          alt={t`What ${name} does`}
          className="w-full"
        />
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-2.5 p-4">
        <div className="flex items-center">
          <TextField
            label={t`Name of the recipe`}
            className="min-w-0 flex-1 rounded bg-transparent text-lg font-semibold hover:bg-base-300 focus:bg-base-300"
            value={name}
            onCommit={(text) => (text.trim() ? change({ name: text.trim() }) : t`A name is missing.`)}
          />
          <IconButton icon={Download} label={t`Export as a file`} onClick={() => save(edition)} />
          <IconButton icon={Trash2} label={t`Delete the recipe …`} onClick={() => setDeleting(true)} />
          <IconButton icon={X} label={t`Close`} onClick={onClose} />
        </div>
        <TextField
          label={t`Description`}
          placeholder={t`What it does, and when to use it`}
          className="textarea textarea-sm w-full text-[13px]"
          lines={4}
          value={recipe.description}
          onCommit={(text) => change({ description: text.trim() })}
        />
        <div className="flex items-center gap-2">
          {t`Tags`}
          <TextField
            label={t`Tags`}
            placeholder={t`light, air`}
            className="input input-xs ml-auto w-60"
            value={recipe.tags.join(', ')}
            onCommit={(text) =>
              change({
                tags: text
                  .split(',')
                  .map((t) => t.trim())
                  .filter((t) => t !== ''),
              })
            }
          />
        </div>
        <div className="flex items-center gap-2">
          {t`Licence`}
          <TextField
            label={t`Licence`}
            placeholder={t`None given`}
            className="input input-xs ml-auto w-60"
            value={recipe.licence}
            onCommit={(text) => change({ licence: text.trim() })}
          />
        </div>
        {error && (
          <p role="alert" className="text-error">
            {error.message}
          </p>
        )}
        {data && (
          <>
            <h2 className="mt-1 font-semibold text-secondary">{t`Versions`}</h2>
            <ul className="grid gap-1" aria-label={t`Versions`}>
              {data.versions.map((v) => (
                <li key={v.edition} className="flex items-baseline gap-2">
                  <span className="w-6 text-right">{v.edition}</span>
                  <span className="min-w-0 flex-1 truncate text-quiet" title={v.note}>
                    {v.note || t`No note`}
                  </span>
                  <span className="text-xs text-quiet">{said(v.savedAt)}</span>
                  <button
                    type="button"
                    className="cursor-pointer text-quiet hover:text-primary"
                    aria-label={t`Export version ${v.edition}`}
                    title={t`Export version ${v.edition}`}
                    onClick={() => save(v.edition)}
                  >
                    <Download size={12} />
                  </button>
                </li>
              ))}
            </ul>
            <h2 className="mt-1 font-semibold text-secondary">{t`Used in`}</h2>
            {data.usedIn.length === 0 ? (
              <p className="text-quiet">{t`No finish yet. In a shot, press Ins and type its name.`}</p>
            ) : (
              <ul className="grid gap-1" aria-label={t`Used in`}>
                {data.usedIn.map((u) => (
                  <li key={u.finish} className="flex items-baseline gap-2">
                    <Link
                      href={`/shots/${u.shot}?finish=${u.finish}`}
                      className="min-w-0 flex-1 truncate hover:underline"
                    >
                      {u.shotName}, {u.finishName}
                    </Link>
                    <span
                      className={`text-xs ${u.editions[0] === edition ? 'text-quiet' : 'text-secondary'}`}
                    >
                      {t`version ${u.editions.join(', ')}`}
                      {u.linked === 0 && t`, not linked`}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </>
        )}
      </div>
      {deleting && (
        <DeleteRecipe
          recipe={recipe}
          onClose={() => setDeleting(false)}
          onDeleted={async () => {
            onClose();
            await refresh();
          }}
        />
      )}
    </aside>
  );
}

/** Asks before a recipe goes. */
function DeleteRecipe({
  recipe,
  onClose,
  onDeleted,
}: {
  recipe: RecipeSummary;
  onClose(): void;
  onDeleted(): Promise<void>;
}) {
  const [problem, setProblem] = useState('');
  const remove = async () => {
    try {
      await request(deleteRecipe, { params: { recipe: recipe.id } });
      await onDeleted();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Modal label={t`Delete ${recipe.name}`} box="w-md" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`Delete the recipe ${recipe.name}?`}</h2>
      <p className="mt-2 text-sm">
        {t`All of its ${recipe.edition} versions go from the library. Finishes that use it have all of it inside, and stay as they are. Export it first to keep a file.`}
      </p>
      <DialogEnd problem={problem} cancel={t`Keep it`} onCancel={onClose}>
        <button type="button" className="btn btn-sm btn-error" onClick={remove}>
          {t`Delete`}
        </button>
      </DialogEnd>
    </Modal>
  );
}
