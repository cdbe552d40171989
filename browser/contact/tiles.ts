import { addFinish, readFinish, type SavedFinish, saveFinish } from '../../api/finishes';
import { request } from '../../api/request';
import { readShot, type ShotDetail } from '../../api/shots';
import { andThen, type Edit } from '../../core/finish/edit';
import { type Finish, FinishError } from '../../core/finish/finish';
import { matchedMedia, mediaNames, withMedia } from '../../core/finish/media-names';
import { appliedRecipe, type Place, takenBack, updatedUses } from '../../core/recipes/apply';
import type { Recipe } from '../../core/recipes/recipe';
import { scaledRecipe } from '../../core/recipes/scale';
import { linkedPasses } from '../recipes';

/** Shots of a contact sheet, and a change of several of them that is seen before it is made. */

export type Tile = { shot: ShotDetail; saved: SavedFinish };

export async function fetchTile(shot: number, finish?: number): Promise<Tile> {
  const detail = await request(readShot, { params: { shot } });
  const id = finish ?? detail.finishes[0]?.id;
  if (id === undefined) throw new Error(`${detail.name} has no finish.`);
  return { shot: detail, saved: await request(readFinish, { params: { finish: id } }) };
}

export type Change =
  | { type: 'recipe'; recipe: Recipe; place: Place }
  | { type: 'finish'; from: Tile }
  | { type: 'update'; recipe: Recipe }
  | { type: 'take-back'; shot: number; use: string };

/** What a change makes of a shot: the document, what is to be known of it, or why it cannot be; undefined where it changes nothing. */
export type After = { document: Finish; label: string; notes: string[] } | { problem: string } | undefined;

export function afterChange({ shot, saved }: Tile, change: Change): After {
  const doc = saved.document;
  try {
    switch (change.type) {
      case 'recipe': {
        const { recipe, place } = change;
        const added = appliedRecipe(doc, recipe, place, shot.width);
        const { edit, missing } = linkedPasses(added.edit.apply(doc), added.id, shot);
        const whole = edit ? andThen(added.edit, () => edit) : added.edit;
        const notes = missing.map(({ slot, pass }) => `It needs ${pass} for ${slot}: link what stands in.`);
        return { ...done(doc, whole), notes };
      }
      case 'update': {
        const edit = updatedUses(doc, scaledRecipe(change.recipe, shot.width));
        return edit && { ...done(doc, edit), notes: [] };
      }
      case 'take-back': {
        const edit = change.shot === shot.id ? takenBack(doc, change.use) : undefined;
        return edit && { ...done(doc, edit), notes: [] };
      }
      case 'finish': {
        if (change.from.shot.id === shot.id) return undefined;
        const given = change.from.saved.document;
        const there = shot.media.map((m) => m.name);
        const names = matchedMedia(given, there);
        const missing = mediaNames(given).filter((n) => !there.includes(names[n] ?? n));
        const notes = missing.length > 0 ? [`This shot has no media ${missing.join(', ')}.`] : [];
        const label = `take the finish ${given.name} of ${change.from.shot.name}`;
        return { document: withMedia(given, names), label, notes };
      }
    }
  } catch (error) {
    if (error instanceof FinishError) return { problem: `${error.problem}. ${error.remedy}` };
    throw error;
  }
}

const done = (doc: Finish, edit: Edit) => ({ document: edit.apply(doc), label: edit.label });

/** Makes a change of a shot: a new version of its finish, or for a finish of another shot one more. Gives the tile as it is then. @throws {Error} in words. */
export async function commitChange({ shot, saved }: Tile, change: Change): Promise<Tile | undefined> {
  const after = afterChange({ shot, saved }, change);
  if (!after) return undefined;
  if ('problem' in after) throw new Error(after.problem);
  const { document, label } = after;
  if (change.type === 'finish') {
    const { finish } = await request(addFinish, { params: { shot: shot.id }, body: { document, label } });
    return fetchTile(shot.id, finish);
  }
  const body = { from: saved.version, label, save: crypto.randomUUID(), document };
  await request(saveFinish, { params: { finish: saved.id }, body });
  return fetchTile(shot.id, saved.id);
}
