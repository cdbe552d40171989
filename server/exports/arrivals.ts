import { LRUCache } from 'lru-cache';
import { type Input, inputsOf } from '../../core/evaluate/inputs';
import { openFinish } from '../../core/finish/validation';
import { parsePattern } from '../../core/formats/frame-pattern';
import type { MediaSpecs } from '../../engine/node/media';
import type { Connection, Row } from '../base/connect';
import type { Note, Tell } from '../changes/note';
import type { Followers } from '../media/register';

/** What files that come or change mean to exports: frames of those that stand are due, frames that failed for want of a file are tried again. */

/** Of each frame of a run, the frames of media that it is made of; all that there are where nobody can tell. */
type Needs = Map<number, Input[]>;
const known = new LRUCache<number, Needs>({ max: 50 });

/** A still is one file for all frames. */
const atOf = (media: MediaSpecs, { media: name, frame }: Input) =>
  media[name] && parsePattern(media[name].pattern).still ? 1 : frame;

/** What each frame of a run is made of: known since it was looked at last, unless it has got other frames. Undefined where its document cannot be opened. */
async function needsOf(c: Connection, run: Row): Promise<Needs | undefined> {
  const [[{ count }]] = await c.query<Row[]>('SELECT COUNT(*) AS count FROM export_frame WHERE run_id = ?', [
    run.id,
  ]);
  const before = known.get(run.id);
  if (before?.size === Number(count)) return before;
  const [frames] = await c.query<Row[]>('SELECT frame FROM export_frame WHERE run_id = ?', [run.id]);
  const [[{ document }]] = await c.query<Row[]>('SELECT document FROM export_run WHERE id = ?', [run.id]);
  try {
    const { finish } = openFinish(document);
    const outputs = run.settings?.outputs ?? [];
    const needs: Needs = new Map(
      frames.map(({ frame }) => [
        frame,
        inputsOf({ finish, frame, scale: 1, outputs }).map((i) => ({ ...i, frame: atOf(run.media, i) })),
      ]),
    );
    known.set(run.id, needs);
    return needs;
  } catch {
    // Whoever renders it says what is wrong with its document.
    return undefined;
  }
}

const isFilled = (media: MediaSpecs, name: string) => (media[name]?.gaps ?? 'missing') !== 'missing';

/** Whether a frame is made of a file of a media; one that is held or empty between its frames is used on later ones too. */
const takesFrom = (needs: readonly Input[], media: MediaSpecs, arrived: Input) =>
  needs.some(
    (n) =>
      n.media === arrived.media &&
      (n.frame === arrived.frame || (isFilled(media, n.media) && n.frame >= arrived.frame)),
  );

/** Of the frames of media that are asked for those that are whole, and one of each media that has any. */
async function wholeFrames(
  c: Connection,
  shot: number,
  inputs: readonly Input[],
): Promise<Map<string, Set<number>>> {
  const wanted = [...new Set(inputs.map((i) => i.frame))];
  const [found] = await c.query<Row[]>(
    `SELECT m.name, f.frame FROM media m JOIN media_frame f ON f.media_id = m.id
     WHERE m.shot_id = ? AND f.state = 'ready' AND f.frame IN (?)
     UNION SELECT m.name, (SELECT f.frame FROM media_frame f WHERE f.media_id = m.id AND f.state = 'ready' LIMIT 1)
     FROM media m WHERE m.shot_id = ?`,
    [shot, wanted.length > 0 ? wanted : [0], shot],
  );
  const whole = new Map<string, Set<number>>();
  for (const { name, frame } of found)
    if (frame !== null) whole.set(name, (whole.get(name) ?? new Set<number>()).add(frame));
  return whole;
}

const isWhole = (needs: readonly Input[], media: MediaSpecs, whole: Map<string, Set<number>>) =>
  needs.every(({ media: name, frame }) => {
    const frames = whole.get(name);
    return frames !== undefined && (isFilled(media, name) ? frames.size > 0 : frames.has(frame));
  });

/** Exports that stand, and reached to the end of their shot, expect the frames that it has got beyond it. */
export async function lengthenStanding(
  c: Connection,
  note: Note,
  shot: number,
  { from, to }: { from: number; to: number },
): Promise<void> {
  if (to < from) return;
  const [runs] = await c.query<Row[]>(
    `SELECT r.id FROM export_run r JOIN export_frame f ON f.run_id = r.id
     WHERE r.shot_id = ? AND r.standing AND NOT r.cancelled GROUP BY r.id HAVING MAX(f.frame) >= ?`,
    [shot, from - 1],
  );
  for (const { id } of runs) {
    await c.query('INSERT IGNORE INTO export_frame (run_id, frame, state) VALUES ?', [
      Array.from({ length: to - from + 1 }, (_, i) => [id, from + i, 'expected']),
    ]);
    note(shot, { what: 'export', subject: id });
  }
}

/**
 * Has exports of a shot go on by what is there: `arrived` alone, or whatever there is. In the transaction that notes the files, or the export. Of a run
 * that was looked at before, the rows of the frames that are made of what arrived are read, and nothing else of it.
 */
export async function filesArrived(
  c: Connection,
  note: Note,
  tell: Tell,
  shot: number,
  arrived?: Input,
): Promise<void> {
  const [runs] = await c.query<Row[]>(
    `SELECT id, media, settings, standing FROM export_run r WHERE shot_id = ? AND NOT cancelled AND (standing OR EXISTS
       (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state = 'failed' AND f.waits_for_input))`,
    [shot],
  );
  for (const run of runs) {
    const needs = await needsOf(c, run);
    const touched =
      arrived && needs
        ? [...needs.keys()].filter((frame) => takesFrom(needs.get(frame)!, run.media, arrived))
        : undefined;
    if (touched?.length === 0) continue;
    const [affected] = await c.query<Row[]>(
      `SELECT frame, state, waits_for_input FROM export_frame WHERE run_id = ? ${touched ? 'AND frame IN (?)' : ''}`,
      [run.id, touched],
    );
    const whole =
      run.standing && needs
        ? await wholeFrames(
            c,
            shot,
            affected.flatMap((f) => needs.get(f.frame) ?? []),
          )
        : undefined;
    for (const { frame, state, waits_for_input } of affected) {
      if (run.standing) {
        if (whole && !isWhole(needs!.get(frame)!, run.media, whole)) continue;
        if (state === 'waiting' || state === 'cancelled') continue;
        // What is done already stays so where no file has changed.
        if (!arrived && state === 'done') continue;
      } else if (state !== 'failed' || !waits_for_input) continue;
      await c.query(
        state === 'rendering'
          ? 'UPDATE export_frame SET stale = TRUE WHERE run_id = ? AND frame = ?'
          : `UPDATE export_frame SET state = 'waiting', deaths = 0, losses = 0, note = NULL, waits_for_input = FALSE, queued = FALSE
             WHERE run_id = ? AND frame = ?`,
        [run.id, frame],
      );
      note(shot, { what: 'export', subject: run.id, part: frame });
      tell({ zafiro: 'exports' });
    }
  }
}

/** Exports follow what comes to the media of their shots. */
export const exportsFollow: Followers = { filesArrived, shotGrew: lengthenStanding };
