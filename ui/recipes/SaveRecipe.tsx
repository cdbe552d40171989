import { type FormEvent, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useEngine } from '@/browser/engine/use-engine';
import { useRecipes, useRefreshedRecipes } from '@/browser/recipes';
import { useShot, useShotStore } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { saveUse } from './use-tools';
import { typedWords, WordsFields, wordsTyped } from './WordsFields';

type Props = { useId: string; shot: ShotDetail; asNew: boolean; onClose(): void };

/** Keeps a recipe in the library: its words, and a note on what is new. */
export function SaveRecipe({ useId, shot, asNew, onClose }: Props) {
  const store = useShotStore();
  const engine = useEngine()?.engine;
  const use = useShot((s) => findStep(s.finish, useId)?.step);
  const refresh = useRefreshedRecipes();
  const { recipes } = useRecipes();
  const known = asNew ? undefined : recipes.find((r) => r.id === use?.recipe?.id);
  const [typed, setTyped] = useState<ReturnType<typeof typedWords>>();
  const [note, setNote] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  if (!use) return null;
  const words = typed ?? typedWords(stepName(use), known);
  const save = async (e: FormEvent) => {
    e.preventDefault();
    if (!words.name.trim()) return setProblem(t`A name is missing.`);
    setBusy(true);
    const why = await saveUse(store, engine, shot, useId, { ...wordsTyped(words), note, asNew: !known });
    setBusy(false);
    if (why) return setProblem(why);
    await refresh();
    onClose();
  };
  return (
    <Modal label={known ? t`Update the recipe` : t`Save to the library`} box="w-[30rem]" onClose={onClose}>
      <form className="grid gap-3" onSubmit={save}>
        <h2 className="text-lg font-semibold">
          {known ? t`Version ${(use.recipe?.version ?? 0) + 1} of ${known.name}` : t`Save to the library`}
        </h2>
        <WordsFields words={words} onChange={setTyped} />
        <label className="grid gap-1 text-[13px]">
          {known ? t`What is new` : t`Note`}
          <input className="input input-sm w-full" value={note} onChange={(e) => setNote(e.target.value)} />
        </label>
        <p className="text-xs text-quiet">
          {t`Its picture is made of the frame that is shown now.`}
          {known && known.uses > 1 && t` ${known.uses} finishes use it: they are offered the new version.`}
        </p>
        <DialogEnd problem={problem} onCancel={onClose}>
          <button type="submit" className="btn btn-sm btn-primary" disabled={busy}>
            {busy ? t`Saving…` : t`Save`}
          </button>
        </DialogEnd>
      </form>
    </Modal>
  );
}
