import type { AnswerOf } from '../../api/contract';
import type { readBelongings } from '../../api/shelf';
import type { Finish } from '../../core/finish/finish';
import { type Connection, database, type Result, type Row, rows, transaction } from '../base/connect';
import { needSpace } from '../base/free-space';
import { NotFound, Refused } from '../base/refusals';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import { isUploaded } from './bin';
import { insertFinish, loadFinish } from './finishes';
import { freeName } from './free-name';

/** How the shelf is arranged: projects and shots are named, moved, copied and archived. */

const goneShot = 'This shot is not there any more.';
const goneProject = 'This project is not there any more.';
const hasName = (what: string, name: string) =>
  new Refused('refused', `There is a ${what} ${name} already.`, 'Choose another name.');

/** A new project; one that was deleted under this name comes back, without its shots. @throws {Refused} where the name is taken. */
export async function addProject(name: string): Promise<number> {
  return transaction(async (c) => {
    const [[same]] = await c.query<Row[]>('SELECT id, deleted_at FROM project WHERE name = ? FOR UPDATE', [
      name,
    ]);
    if (same && !same.deleted_at) throw hasName('project', name);
    if (same) {
      await c.query('UPDATE project SET deleted_at = NULL, archived = FALSE WHERE id = ?', [same.id]);
      return same.id as number;
    }
    const [made] = await c.query<Result>('INSERT INTO project (name) VALUES (?)', [name]);
    return made.insertId;
  });
}

/** Renames or archives a project. @throws {NotFound} @throws {Refused} */
export async function changeProject(
  id: number,
  { name, archived }: { name?: string; archived?: boolean },
): Promise<void> {
  await changing(async (c, note) => {
    const [[project]] = await c.query<Row[]>(
      'SELECT id FROM project WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [id],
    );
    if (!project) throw new NotFound(goneProject);
    if (name !== undefined) {
      const [[same]] = await c.query<Row[]>('SELECT id, deleted_at FROM project WHERE name = ? AND id <> ?', [
        name,
        id,
      ]);
      if (same && !same.deleted_at) throw hasName('project', name);
      // One that was deleted gives its name away.
      if (same)
        await c.query('UPDATE project SET name = ? WHERE id = ?', [
          `${name.slice(0, 150)} (deleted ${same.id})`,
          same.id,
        ]);
    }
    await c.query(
      'UPDATE project SET name = COALESCE(?, name), archived = COALESCE(?, archived) WHERE id = ?',
      [name ?? null, archived ?? null, id],
    );
    const [shots] = await c.query<Row[]>('SELECT id FROM shot WHERE project_id = ?', [id]);
    for (const shot of shots) note(shot.id, { what: 'shot' });
  });
}

async function takenNames(c: Connection, project: number, besides: number): Promise<Set<string>> {
  const [others] = await c.query<Row[]>(
    'SELECT name FROM shot WHERE project_id = ? AND id <> ? AND deleted_at IS NULL',
    [project, besides],
  );
  return new Set(others.map((o) => o.name as string));
}

/** Renames a shot, moves it into another project, or archives it. @throws {NotFound} @throws {Refused} where the name is taken there. */
export async function changeShot(
  id: number,
  { name, project, archived }: { name?: string; project?: number; archived?: boolean },
): Promise<void> {
  await changing(async (c, note) => {
    const [[shot]] = await c.query<Row[]>(
      'SELECT project_id, name FROM shot WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [id],
    );
    if (!shot) throw new NotFound(goneShot);
    const to = project ?? (shot.project_id as number);
    const [[there]] = await c.query<Row[]>(
      'SELECT id FROM project WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [to],
    );
    if (!there) throw new NotFound(goneProject);
    const called = name ?? (shot.name as string);
    if ((await takenNames(c, to, id)).has(called)) throw hasName('shot', called);
    await c.query('UPDATE shot SET name = ?, project_id = ?, archived = COALESCE(?, archived) WHERE id = ?', [
      called,
      to,
      archived ?? null,
      id,
    ]);
    note(id, { what: 'shot' });
  });
}

/** A copy of a shot beside it: the same media, which stay where they are, and the newest version of each finish. @throws {NotFound} */
export async function copyShot(id: number): Promise<number> {
  await needSpace('Free some space, then try it again.');
  const finishes = await rows<{ id: number }>(
    'SELECT id FROM finish WHERE shot_id = ? AND deleted_at IS NULL ORDER BY id',
    [id],
  );
  const documents: Finish[] = [];
  for (const finish of finishes) documents.push((await loadFinish(finish.id)).document);
  const copy = await transaction(async (c) => {
    const [[shot]] = await c.query<Row[]>(
      'SELECT project_id, name FROM shot WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [id],
    );
    if (!shot) throw new NotFound(goneShot);
    await c.query('SELECT id FROM project WHERE id = ? FOR UPDATE', [shot.project_id]);
    const name = freeName(`${shot.name}, copy`, await takenNames(c, shot.project_id, 0));
    const [made] = await c.query<Row[]>(
      `INSERT INTO shot (project_id, name, first_frame, last_frame, rate, width, height)
       SELECT project_id, ?, first_frame, last_frame, rate, width, height FROM shot WHERE id = ? RETURNING id`,
      [name, id],
    );
    const to = made[0].id as number;
    await c.query(
      `INSERT INTO media (shot_id, name, pattern, first_frame, last_frame, gaps, encoding, kinds)
       SELECT ?, name, pattern, first_frame, last_frame, gaps, encoding, kinds FROM media WHERE shot_id = ? ORDER BY id`,
      [to, id],
    );
    // What is known of their frames need not be read anew.
    await c.query(
      `INSERT INTO media_frame (media_id, frame, state, problem, content, bytes, modified_ms, passes, width, height)
       SELECT n.id, f.frame, f.state, f.problem, f.content, f.bytes, f.modified_ms, f.passes, f.width, f.height
       FROM media o JOIN media n ON n.shot_id = ? AND n.name = o.name JOIN media_frame f ON f.media_id = o.id
       WHERE o.shot_id = ?`,
      [to, id],
    );
    for (const document of documents) await insertFinish(c, to, document, `copy ${document.name}`);
    return to;
  });
  announce({ zafiro: 'media' });
  return copy;
}

/** What goes with a shot that is deleted, and what stays. @throws {NotFound} */
export async function belongingsOf(id: number): Promise<AnswerOf<typeof readBelongings>> {
  const [found] = await rows<{ finishes: number; versions: number; exports: number; exportedFrames: number }>(
    `SELECT (SELECT COUNT(*) FROM finish WHERE shot_id = s.id) AS finishes,
       (SELECT COUNT(*) FROM finish_version v JOIN finish f ON f.id = v.finish_id WHERE f.shot_id = s.id) AS versions,
       (SELECT COUNT(*) FROM export_run WHERE shot_id = s.id) AS exports,
       (SELECT COUNT(*) FROM export_frame e JOIN export_run r ON r.id = e.run_id WHERE r.shot_id = s.id AND e.state = 'done') AS exportedFrames
     FROM shot s WHERE s.id = ?`,
    [id],
  );
  if (!found) throw new NotFound(goneShot);
  const media = await rows<{ name: string; pattern: string }>(
    'SELECT name, pattern FROM media WHERE shot_id = ? ORDER BY id',
    [id],
  );
  return {
    ...found,
    uploaded: media.filter((m) => isUploaded(m.pattern)).map((m) => m.name),
    inPlace: media.filter((m) => !isUploaded(m.pattern)).map((m) => m.name),
  };
}

/** Remembers that a shot was opened just now. */
export async function markOpened(id: number, finish: number): Promise<void> {
  await database().query('UPDATE shot SET opened_at = NOW(3), opened_finish = ? WHERE id = ?', [finish, id]);
}
