import type { Role } from '../../api/access';
import { dataFolder, dataPath } from '../data-folder';
import { rows } from '../db/connect';
import { mediaRoots } from '../media/roots';
import { rootsOf } from './members';
import { roleIn } from './rights';
import type { Who } from './who';

/** Folders of the server that somebody may look through and import from. */

const uploadsOf = async (who: Who) =>
  (await rows<{ id: string }>('SELECT id FROM upload WHERE account_id = ?', [who.account])).map(({ id }) =>
    dataPath('media', id),
  );

/** Those of the server without Zafiro’s own, where the files of all lie. */
const shared = () => mediaRoots().filter((root) => root !== dataFolder());

/** For media of a project: what somebody has sent, and for who manages it the folders of the project, or those of the server where it has none. */
export async function rootsFor(who: Who, project: number | undefined): Promise<string[]> {
  if (who.isAdmin && project === undefined) return mediaRoots();
  const own = project === undefined ? [] : await rootsOf(project);
  if (who.isAdmin) return own.length > 0 ? [...own, dataFolder()] : mediaRoots();
  const role: Role | undefined = project === undefined ? 'manage' : await roleIn(project, who);
  const folders = role !== 'manage' ? [] : own.length > 0 ? own : shared();
  return [...folders, ...(await uploadsOf(who))];
}

/** For looking through folders: those of all projects that somebody manages. */
export async function rootsManaged(who: Who): Promise<string[]> {
  if (who.isAdmin) return mediaRoots();
  const managed = await rows<{ project_id: number }>(
    "SELECT project_id FROM membership WHERE account_id = ? AND role = 'manage'",
    [who.account],
  );
  const found = await Promise.all(managed.map((m) => rootsOf(m.project_id)));
  return [...new Set(found.flatMap((own) => (own.length > 0 ? own : shared())))];
}

/** For a look at frames before they are imported. */
export const rootsLooked = async (who: Who) =>
  who.isAdmin ? mediaRoots() : [...(await rootsManaged(who)), ...(await uploadsOf(who))];
