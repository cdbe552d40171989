import { existsSync } from 'node:fs';
import { isAbsolute, resolve } from 'node:path';
import type { Member, Role } from '../../api/access';
import { database, rows, transaction } from '../base/connect';
import { NotFound, Refused } from '../base/refusals';
import { insideRoots } from '../media/roots';
import type { Who } from './who';

/** Roles in a project, and the folders that its frames may be read from. */

export const membersOf = (project: number) =>
  rows<Member>(
    `SELECT a.id, a.name, IF(a.is_admin, 'manage', m.role) AS role FROM account a
       LEFT JOIN membership m ON m.account_id = a.id AND m.project_id = ? ORDER BY a.name`,
    [project],
  );

/** Gives somebody a role in a project, or none. @throws {NotFound} */
export async function setMember(project: number, account: number, role: Role | null): Promise<void> {
  try {
    if (role === null)
      await database().query('DELETE FROM membership WHERE project_id = ? AND account_id = ?', [
        project,
        account,
      ]);
    else
      await database().query(
        'INSERT INTO membership (project_id, account_id, role) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE role = VALUES(role)',
        [project, account, role],
      );
  } catch (error) {
    if (/ER_NO_REFERENCED_ROW/.test(String((error as { code?: string }).code)))
      throw new NotFound('This project or this account is not there any more.');
    throw error;
  }
}

export const rootsOf = async (project: number) =>
  (
    await rows<{ path: string }>('SELECT path FROM project_root WHERE project_id = ? ORDER BY path', [
      project,
    ])
  ).map((r) => r.path);

/** Sets the folders of a project; without any it reads none of the server’s. @throws {Refused} */
export async function setRoots(project: number, roots: readonly string[]): Promise<void> {
  for (const root of roots) {
    if (!isAbsolute(root) || !existsSync(root))
      throw new Refused(
        'bad-request',
        `There is no folder ${root}.`,
        'Give whole paths of folders of the server.',
      );
    insideRoots(root);
  }
  await transaction(async (c) => {
    await c.query('DELETE FROM project_root WHERE project_id = ?', [project]);
    for (const root of new Set(roots.map((r) => resolve(r))))
      await c.query('INSERT INTO project_root (project_id, path) VALUES (?, ?)', [project, root]);
  });
}

/** Who made a project manages it. */
export async function manageNew(who: Who, project: string | number): Promise<void> {
  if (who.account === undefined) return;
  const by = typeof project === 'number' ? 'id' : 'name';
  await database().query(
    `INSERT IGNORE INTO membership (project_id, account_id, role) SELECT id, ?, 'manage' FROM project WHERE ${by} = ?`,
    [who.account, project],
  );
}
