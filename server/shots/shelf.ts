import { statfs } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import type { Deleted, Shelf, ShelfFinish, ShelfShot } from '../../api/shelf';
import { type FlatLayer, flatLayers } from '../../core/finish/flat-layers';
import { openFinish } from '../../core/finish/validation';
import { rolesOf } from '../access/rights';
import type { Who } from '../access/who';
import { rows } from '../base/connect';
import { dataFolder } from '../base/data-folder';
import { keptDays } from './bin';
import { framesOfShots, type ShotFrames } from './shot-frames';

/** All that stands on the shelf: projects with their shots and finishes, the newest first. */

type FoundShot = Omit<
  ShelfShot,
  'frame' | 'layers' | 'finishes' | 'exporting' | 'archived' | 'addedAt' | 'openedAt' | 'arrived' | 'expected'
> & {
  project_id: number;
  archived: number;
  created_at: Date;
  opened_at: Date | null;
  seq: number | null;
};

const shotsThere = () =>
  rows<FoundShot>(
    `SELECT s.id, s.project_id, s.name, s.first_frame AS first, s.last_frame AS last, s.rate, s.width, s.height, s.archived,
       s.created_at, s.opened_at, s.opened_finish AS openedFinish, c.seq
     FROM shot s LEFT JOIN shot_clock c ON c.shot_id = s.id WHERE s.deleted_at IS NULL ORDER BY s.id`,
  );

type FoundFinish = Omit<ShelfFinish, 'savedAt'> & { shot_id: number; saved_at: Date };
const finishesThere = () =>
  rows<FoundFinish>(
    `SELECT f.id, f.shot_id, f.name, f.version, p.version AS poster, v.saved_at
     FROM finish f JOIN finish_version v ON v.finish_id = f.id AND v.version = f.version
       LEFT JOIN finish_poster p ON p.finish_id = f.id
     WHERE f.deleted_at IS NULL ORDER BY f.id`,
  );

/** The passes that versions of finishes begin with: versions do not change. */
const flat = new LRUCache<string, FlatLayer[]>({ max: 20_000 });

/** The drawings of the first frame of shots, by the finish that stands for them. */
async function layersOf(
  finishes: readonly FoundFinish[],
  frames: ReadonlyMap<number, ShotFrames>,
): Promise<Map<number, ShelfShot['layers']>> {
  const keyOf = (f: FoundFinish) => `${f.id}/${f.version}`;
  const unknown = finishes.filter((f) => !flat.has(keyOf(f)));
  if (unknown.length > 0) {
    const documents = await rows<{ id: number; version: number; document: unknown }>(
      'SELECT finish_id AS id, version, document FROM finish_version WHERE (finish_id, version) IN (?)',
      [unknown.map((f) => [f.id, f.version])],
    );
    for (const { id, version, document } of documents)
      flat.set(`${id}/${version}`, flatLayers(openFinish(document).finish));
  }
  return new Map(
    finishes.map((finish) => {
      const passes = flat.get(keyOf(finish)) ?? [];
      const layers = passes.flatMap(({ media: name, opacity }) => {
        const layer = frames.get(finish.shot_id)?.nearest.get(name);
        return layer ? [{ ...layer, opacity }] : [];
      });
      return [finish.id, passes.length > 1 ? layers : []];
    }),
  );
}

/** Frames of runs that still have some to do, by shot. */
const exportsOpen = () =>
  rows<{ shot: number; done: number; of: number }>(
    `SELECT r.shot_id AS shot, SUM(f.state = 'done') AS done, COUNT(*) AS of FROM export_run r JOIN export_frame f ON f.run_id = r.id
     WHERE NOT r.cancelled AND r.id IN (SELECT run_id FROM export_frame WHERE state IN ('waiting', 'rendering'))
     GROUP BY r.shot_id`,
  );

/** What was deleted of late: projects, shots whose project is there, and finishes whose shot is there. */
async function deletedThings(seen?: ReadonlySet<number>): Promise<Deleted[]> {
  const all = await rows<Pick<Deleted, 'type' | 'id' | 'name' | 'of'> & { at: Date; project: number }>(
    `SELECT 'project' AS type, id, name, '' AS of, deleted_at AS at, id AS project FROM project WHERE deleted_at IS NOT NULL
     UNION ALL SELECT 'shot', s.id, s.name, p.name, s.deleted_at, p.id FROM shot s JOIN project p ON p.id = s.project_id
       WHERE s.deleted_at IS NOT NULL AND p.deleted_at IS NULL
     UNION ALL SELECT 'finish', f.id, f.name, s.name, f.deleted_at, s.project_id FROM finish f JOIN shot s ON s.id = f.shot_id
       WHERE f.deleted_at IS NOT NULL AND s.deleted_at IS NULL
     ORDER BY at DESC LIMIT 500`,
  );
  const found = all.filter((d) => !seen || seen.has(d.project));
  return found.map(({ at, project: _, ...thing }) => ({
    ...thing,
    deletedAt: at.toISOString(),
    goesAt: new Date(at.getTime() + keptDays * 86_400_000).toISOString(),
  }));
}

function groupedBy<T>(items: readonly T[], keyOf: (item: T) => number): Map<number, T[]> {
  const groups = new Map<number, T[]>();
  for (const item of items) groups.set(keyOf(item), [...(groups.get(keyOf(item)) ?? []), item]);
  return groups;
}

/** What somebody may see of it. */
export async function readShelf(who: Who): Promise<Shelf> {
  const roles = await rolesOf(who);
  const seen = roles && new Set(roles.keys());
  const edits = !roles || [...roles.values()].some((role) => role !== 'look');
  const [projects, shots, finishes, open, deleted, disk] = await Promise.all([
    rows<{ id: number; name: string; archived: number; created_at: Date }>(
      'SELECT id, name, archived, created_at FROM project WHERE deleted_at IS NULL ORDER BY id DESC',
    ),
    shotsThere(),
    finishesThere(),
    exportsOpen(),
    deletedThings(seen),
    statfs(dataFolder()),
  ]);
  const finishesOf = groupedBy(finishes, (f) => f.shot_id);
  const shownOf = ({ id, openedFinish }: Pick<ShelfShot, 'id' | 'openedFinish'>) => {
    const own = finishesOf.get(id) ?? [];
    return own.find((f) => f.id === openedFinish) ?? own[0];
  };
  // Only what has no finished picture yet: its document need not be read otherwise.
  const waiting = shots
    .filter((s) => !seen || seen.has(s.project_id))
    .map(shownOf)
    .filter((f) => f?.poster === null);
  const frames = await framesOfShots(shots);
  const layers = await layersOf(waiting, frames);
  const shotsOf = groupedBy(shots, (s) => s.project_id);
  const exporting = new Map(open.map((o) => [o.shot, { done: Number(o.done), of: Number(o.of) }]));
  return {
    projects: projects
      .filter((p) => !seen || seen.has(p.id))
      .map(({ archived, created_at, ...project }) => ({
        ...project,
        archived: Boolean(archived),
        looksOnly: roles?.get(project.id) === 'look',
        addedAt: created_at.toISOString(),
        shots: (shotsOf.get(project.id) ?? []).map(
          ({ project_id: _, seq: __, archived, created_at, opened_at, ...shot }) => {
            const { expected, arrived, first } = frames.get(shot.id)!;
            return {
              ...shot,
              expected,
              arrived,
              archived: Boolean(archived),
              addedAt: created_at.toISOString(),
              openedAt: opened_at?.toISOString() ?? null,
              layers: layers.get(shownOf(shot)?.id ?? 0) ?? [],
              frame: first,
              finishes: (finishesOf.get(shot.id) ?? []).map(({ shot_id: _, saved_at, ...finish }) => ({
                ...finish,
                savedAt: saved_at.toISOString(),
              })),
              exporting: exporting.get(shot.id) ?? null,
            };
          },
        ),
      })),
    deleted,
    ...(who.account === undefined ? {} : { who: { name: who.name, isAdmin: who.isAdmin, edits } }),
    free: disk.bavail * disk.bsize,
    disk: disk.blocks * disk.bsize,
  };
}
