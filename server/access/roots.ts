import { rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { frameRoots, mediaRoots, uploadsFolder } from '../media/roots';
import { rootsOf } from './members';
import { roleIn } from './rights';
import type { Who } from './who';

/** Folders of the server that somebody may look through and import from. */

const uploadsOf = async (who: Who) =>
  (await rows<{ id: string }>('SELECT id FROM upload WHERE account_id = ?', [who.account])).map(({ id }) =>
    dataPath('media', id),
  );

/**
 * For media of a project: what somebody has sent, and for who manages it the folders that an administrator gave the project. One that has none
 * reads no folder of the server but for administrators.
 */
export async function rootsFor(who: Who, project: number | undefined): Promise<string[]> {
  const own = project === undefined ? [] : await rootsOf(project);
  if (who.isAdmin) return own.length > 0 ? [...own, uploadsFolder()] : frameRoots();
  const manages = project !== undefined && (await roleIn(project, who)) === 'manage';
  return [...(manages ? own : []), ...(await uploadsOf(who))];
}

/** For looking through folders: those of all projects that somebody manages. */
export async function rootsManaged(who: Who): Promise<string[]> {
  if (who.isAdmin) return mediaRoots();
  const managed = await rows<{ project_id: number }>(
    "SELECT project_id FROM membership WHERE account_id = ? AND role = 'manage'",
    [who.account],
  );
  const found = await Promise.all(managed.map((m) => rootsOf(m.project_id)));
  return [...new Set(found.flat())];
}

/** For a look at frames before they are imported. */
export const rootsLooked = async (who: Who) =>
  who.isAdmin ? frameRoots() : [...(await rootsManaged(who)), ...(await uploadsOf(who))];
