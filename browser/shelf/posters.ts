import { request } from '../../api/request';
import { type Shelf, type ShelfFinish, type ShelfShot, savePoster } from '../../api/shelf';
import { fetchTile } from '../contact/tiles';
import { finishedPicture } from '../contact/use-pictures';
import type { Engine } from '../engine/engine';
import { webpOf } from '../pictures/webp';

/** Posters of the shelf: the finished picture of each finish, made by a browser once for each version and kept by the server. */

const posterWidth = 640;

/** The finish that stands for a shot: the one that was open last, else its first. */
export const finishShown = ({ finishes, openedFinish }: ShelfShot): ShelfFinish | undefined =>
  finishes.find((f) => f.id === openedFinish) ?? finishes[0];

export type Missing = { shot: number; finish: number; frame: number };

/** Posters that are missing or older than their finish, of shots that have a frame; those of what was opened last first. */
export function postersMissing({ projects }: Shelf): Missing[] {
  const shots = projects.flatMap((p) => (p.archived ? [] : p.shots)).filter((s) => !s.archived);
  return [...shots]
    .sort((a, b) => (b.openedAt ?? '').localeCompare(a.openedAt ?? ''))
    .flatMap((shot) => {
      const finish = finishShown(shot);
      if (!finish || !shot.frame || finish.poster === finish.version) return [];
      return [{ shot: shot.id, finish: finish.id, frame: shot.frame.frame }];
    });
}

/** Makes a poster and gives it to the server. @throws {Error} in words where the picture cannot be made. */
export async function makePoster(engine: Engine, { shot: id, finish, frame }: Missing): Promise<void> {
  const { shot, saved } = await fetchTile(id, finish);
  const made = await finishedPicture(engine, { shot, finish: saved.document, frame, width: posterWidth });
  if ('problem' in made) throw new Error(made.problem);
  const { webp } = await webpOf(made.bitmap, posterWidth, 0.86);
  made.bitmap.close();
  await request(savePoster, { params: { finish }, body: { version: saved.version, webp } });
}
