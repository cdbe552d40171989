import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { addFinish } from '@/api/finishes';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { takeReference } from '@/browser/pictures/references';
import { useRefreshedRecipes } from '@/browser/recipes';
import { useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { findStep, strandOf } from '@/core/finish/finish';
import { type FrameOrigin, originFrom, originTextIn } from '@/core/finish/frame-origin';
import { matchedMedia, mediaNames, withMedia } from '@/core/finish/media-names';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { importFiles, recipeFileEnding } from '../recipes/recipe-files';
import { addRecipeHere } from '../recipes/use-tools';
import { referencesKey } from '../viewer/References';
import { t } from '../words/words';

/** So much of a frame holds its head; a larger head is read whole. */
const headBytes = 4 * 2 ** 20;

/** How a frame was made. @throws {Error} in words where it does not know. */
async function originOf(file: File): Promise<FrameOrigin> {
  const read = async (bytes: Blob) => originTextIn(new Uint8Array(await bytes.arrayBuffer()));
  const text = await read(file.slice(0, headBytes)).catch(() => read(file));
  if (text === undefined)
    throw new Error(
      t`${file.name} carries no finish. Drop a frame (EXR or PNG) that Zafiro has exported, or a recipe (${recipeFileEnding}).`,
    );
  return originFrom(text);
}

/** What is dropped onto the screen of a shot: a finished frame opens the finish it was made by, a recipe is taken in and used, any other still becomes a reference. */
export function ShotDrops({ shot }: { shot: ShotDetail }) {
  const store = useShotStore();
  const refresh = useRefreshedRecipes();
  const client = useQueryClient();
  const [over, setOver] = useState(false);
  const [origin, setOrigin] = useState<{ file: string; origin: FrameOrigin }>();
  useEffect(() => {
    const hasFiles = (e: DragEvent) => e.dataTransfer?.types.includes('Files') ?? false;
    const enter = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const leave = (e: DragEvent) => e.relatedTarget === null && setOver(false);
    const take = async (file: File) => {
      if (!file.name.endsWith('.json')) {
        const found = await originOf(file).catch((error: Error) => error);
        if (!(found instanceof Error)) return setOrigin({ file: file.name, origin: found });
        // A still without a finish is looked at beside the picture.
        if (!/^image\/(png|jpeg|webp|avif|gif|bmp)$/.test(file.type)) throw found;
        const { again, name } = await takeReference(shot.id, file);
        if (again) toast(t`This picture is there already, as ${name}.`);
        store.getState().change({ references: true });
        await client.invalidateQueries({ queryKey: referencesKey(shot.id) });
        return;
      }
      const [done] = await importFiles([file]);
      if (done.failed || !done.id || !done.edition) throw new Error(done.words);
      await refresh();
      const { finish, selected = '' } = store.getState();
      const strand = strandOf(finish, selected);
      const index = (findStep(finish, selected)?.index ?? strand.steps.length - 1) + 1;
      const recipe = { id: done.id, edition: done.edition, name: done.recipe ?? done.id };
      await addRecipeHere(store, shot, recipe, { strand: strand.id, index });
      toast.success(done.words);
    };
    const drop = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(false);
      const [file] = e.dataTransfer?.files ?? [];
      if (file) take(file).catch((error) => toast.error((error as Error).message, { duration: 12_000 }));
    };
    window.addEventListener('dragover', enter);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', enter);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [store, shot, refresh, client]);
  return (
    <>
      {over && (
        <div className="pointer-events-none fixed inset-0 z-40 grid place-content-center bg-black/60 text-lg ring-2 ring-primary ring-inset">
          {t`Drop a finished frame to open its finish, a recipe to use it here, or a still to see it beside the picture.`}
        </div>
      )}
      {origin && <OpenOrigin {...origin} shot={shot} onClose={() => setOrigin(undefined)} />}
    </>
  );
}

/** Asks how the finish of a frame is to be opened here: as another finish of this shot, and of which media. */
function OpenOrigin({
  file,
  origin,
  shot,
  onClose,
}: {
  file: string;
  origin: FrameOrigin;
  shot: ShotDetail;
  onClose(): void;
}) {
  const { autosave } = useSession();
  const router = useRouter();
  const there = shot.media.map((m) => m.name);
  const missing = mediaNames(origin.finish).filter((name) => !there.includes(name));
  const [names, setNames] = useState<Record<string, string>>(() => matchedMedia(origin.finish, there));
  const [problem, setProblem] = useState('');
  const open = async () => {
    try {
      const document = withMedia(origin.finish, names);
      const label = t`open the finish of ${file}`;
      const { finish } = await request(addFinish, { params: { shot: shot.id }, body: { document, label } });
      await autosave.flush();
      router.push(`/shots/${shot.id}?finish=${finish}`);
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Modal label={t`The finish of a frame`} box="w-[30rem]" onClose={onClose}>
      <h2 className="text-lg font-semibold">{origin.finish.name}</h2>
      <p className="mt-1 text-sm text-quiet">
        {t`The finish of ${file}: frame ${origin.frame}, written by Zafiro ${origin.zafiro}`}
        {Object.keys(origin.media).length > 0 && `, of ${Object.values(origin.media).join(', ')}`}.
      </p>
      {missing.length > 0 && (
        <fieldset className="mt-3 grid gap-1.5 text-[13px]">
          <legend className="mb-1 text-secondary">{t`This shot has other media`}</legend>
          {missing.map((name) => (
            <label key={name} className="flex items-center gap-2">
              {name}
              <select
                className="select select-xs ml-auto w-56"
                value={names[name] ?? ''}
                onChange={(e) => setNames({ ...names, [name]: e.target.value || name })}
              >
                <option value="">{t`Leave it empty`}</option>
                {there.map((t) => (
                  <option key={t} value={t}>
                    {t}
                  </option>
                ))}
              </select>
            </label>
          ))}
        </fieldset>
      )}
      <DialogEnd problem={problem} onCancel={onClose}>
        <button type="button" className="btn btn-sm btn-primary" onClick={open}>
          {t`Open it in this shot`}
        </button>
      </DialogEnd>
    </Modal>
  );
}
