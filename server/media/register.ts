import { readdir, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Input } from '../../core/evaluate/inputs';
import { frameOf, parsePattern } from '../../core/formats/frame-pattern';
import { limits } from '../../core/formats/limits';
import { codeOf, fileProblem, MediaError } from '../../engine/node/media-file';
import { type Connection, type Row, rows } from '../base/connect';
import { changing, type Note, type Tell } from '../changes/note';
import { type Media, mediaPath, specOf } from './frames';
import type { LookAnswer } from './reader/answers';
import { lookAt } from './reader/reader';
import { insideRoots } from './roots';
import { thumbnailsOf } from './thumbnails';

const mostProblem = 2000;

/** How often each file could not be read for want of time or memory: a busy machine passes, a file that is too much for it does not. */
const exhausted = new Map<string, number>();
const mostTries = 3;

/** Whether a frame may be read another time though its file has not changed. */
function isWorthAnotherLook(path: string, error: unknown): boolean {
  if (codeOf(error) === 'disk-full') return true;
  if (!(error instanceof MediaError) || error.code !== 'exhausted') return false;
  const tries = (exhausted.get(path) ?? 0) + 1;
  exhausted.set(path, tries);
  return tries < mostTries;
}

type Stamp = { size: number; modified: number };

/** What follows from files that come, in the transaction that registers them: the media do not know who uses them. */
export type Followers = {
  filesArrived(c: Connection, note: Note, tell: Tell, shot: number, arrived: Input): Promise<void>;
  /** The shot has got these frames at its end. */
  shotGrew(c: Connection, note: Note, shot: number, grown: { from: number; to: number }): Promise<void>;
};

const stampOf = async (path: string): Promise<Stamp | undefined> => {
  try {
    const { size, mtimeMs } = await stat(path);
    return { size, modified: Math.round(mtimeMs) };
  } catch {
    return;
  }
};

/**
 * Looks at one frame's file and notes what is in it: content, size, passes, thumbnail; or why it cannot be used. A frame of which only some
 * is there is `partial`: it is looked at again once its size or time changes, and so are the exports that failed for want of it.
 */
async function registerFrame(
  follow: Followers,
  media: Media,
  frame: number,
  { size, modified }: Stamp,
): Promise<void> {
  const path = mediaPath(media, frame);
  let found: Partial<LookAnswer> = {};
  let problem: string | null = null;
  let known = modified;
  try {
    const about = `Frame ${frame}: `;
    found = await lookAt({
      path: insideRoots(path, about),
      about,
      wishes: specOf(media),
      thumbnails: thumbnailsOf(media.encoding),
    });
    problem = found.partial ? `Frame ${frame}: ${path} is partial. ${found.partial}` : null;
  } catch (error) {
    if (isWorthAnotherLook(path, error)) known = 0;
    problem = error instanceof MediaError ? error.message : `Frame ${frame}: ${path} ${fileProblem(error)}`;
  }
  const { content = '', width = null, height = null, passes, partial } = found;
  const state = !content ? 'failed' : partial ? 'partial' : 'ready';
  await changing(async (c, note, tell) => {
    const [[{ shot_id: shot }]] = await c.query<Row[]>('SELECT shot_id FROM media WHERE id = ?', [media.id]);
    const [[{ readable }]] = await c.query<Row[]>(
      'SELECT COUNT(*) AS readable FROM media_frame WHERE media_id = ? AND passes IS NOT NULL',
      [media.id],
    );
    await c.query(
      `INSERT INTO media_frame (media_id, frame, state, problem, content, bytes, modified_ms, passes, width, height)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE state = VALUES(state), problem = VALUES(problem), content = VALUES(content),
         bytes = VALUES(bytes), modified_ms = VALUES(modified_ms), passes = VALUES(passes), width = VALUES(width),
         height = VALUES(height)`,
      [
        media.id,
        frame,
        state,
        problem?.slice(0, mostProblem) ?? null,
        content,
        size,
        known,
        passes ? JSON.stringify(passes) : null,
        width,
        height,
      ],
    );
    // The passes of the first readable frame are those of the media.
    if (Number(readable) === 0 && passes) note(shot, { what: 'shot' });
    note(shot, { what: 'frame', subject: media.id, part: frame });
    await follow.filesArrived(c, note, tell, shot, { media: media.name, frame });
  });
}

/** Frames of a media whose files are in their folder, also outside its range. */
async function framesInFolder(media: Media): Promise<number[]> {
  const pattern = parsePattern(media.pattern);
  if (pattern.still) return [1];
  const folder = dirname(`${pattern.before}x`);
  const names = await readdir(folder).catch(() => []);
  const inside = folder === '/' ? '/' : `${folder}/`;
  return names
    .map((name) => frameOf(pattern, inside + name))
    .filter((f) => f !== undefined)
    .sort((a, b) => a - b);
}

/** What the row of a frame says whose file is gone. */
const isGone = ({ bytes, modified_ms }: KnownFrame) => bytes === 0 && modified_ms === 0;

/** Notes that a frame's file is not there any more. What was known of its passes stays. */
async function registerGone(media: Media, frame: number): Promise<void> {
  const problem = `Frame ${frame}: ${mediaPath(media, frame)} is gone. Put the file back, or render it again.`;
  await changing(async (c, note) => {
    const [[{ shot_id: shot }]] = await c.query<Row[]>('SELECT shot_id FROM media WHERE id = ?', [media.id]);
    await c.query(
      `UPDATE media_frame SET state = 'failed', problem = ?, content = '', bytes = 0, modified_ms = 0
       WHERE media_id = ? AND frame = ?`,
      [problem.slice(0, mostProblem), media.id, frame],
    );
    note(shot, { what: 'frame', subject: media.id, part: frame });
  });
}

/**
 * Frames beyond the range of a media make it longer, and its shot too where that ended with it; standing exports that reached to the end of the shot
 * go on with it. Numbers so far away that they cannot belong to the shot are left out. Gives the media as it is then.
 */
async function grown(follow: Followers, media: Media, frames: readonly number[]): Promise<Media> {
  const isBeyond = frames.some((f) => f < media.first || f > media.last);
  if (!isBeyond || parsePattern(media.pattern).still) return media;
  return changing(async (c, note) => {
    // As it is now: a watch may know it from before it grew the last time.
    const [[now]] = await c.query<Row[]>(
      `SELECT s.id AS shot, s.first_frame AS shot_first, s.last_frame AS shot_last, m.first_frame AS first, m.last_frame AS last
       FROM shot s JOIN media m ON m.shot_id = s.id WHERE m.id = ? FOR UPDATE`,
      [media.id],
    );
    if (!now) return media;
    let { first, last } = now as { first: number; last: number };
    for (const f of frames) if (f > last && f - first < limits.shotFrames) last = f;
    for (const f of [...frames].reverse()) if (f < first && last - f < limits.shotFrames) first = f;
    if (first === now.first && last === now.last) return { ...media, first, last };
    await c.query('UPDATE media SET first_frame = ?, last_frame = ? WHERE id = ?', [first, last, media.id]);
    const from = now.shot_first === now.first ? first : now.shot_first;
    const to = now.shot_last === now.last ? last : now.shot_last;
    await c.query('UPDATE shot SET first_frame = ?, last_frame = ? WHERE id = ?', [from, to, now.shot]);
    note(now.shot, { what: 'shot' });
    await follow.shotGrew(c, note, now.shot, { from: now.shot_last + 1, to });
    return { ...media, first, last };
  });
}

type KnownFrame = { frame: number; bytes: number; modified_ms: number };

/**
 * Looks for files of the media's frames that are new, have changed or are gone, of all or of the frames named, and registers them. Gives how many.
 */
export async function registerArrivals(
  follow: Followers,
  given: Media,
  wanted?: readonly number[],
): Promise<number> {
  const there = wanted ?? (await framesInFolder(given));
  const media = await grown(follow, given, there);
  const frames = there.filter((f) => f >= media.first && f <= media.last);
  const known = new Map(
    (
      await rows<KnownFrame>('SELECT frame, bytes, modified_ms FROM media_frame WHERE media_id = ?', [
        media.id,
      ])
    ).map((r) => [r.frame, r]),
  );
  let count = 0;
  const listed = new Set(frames);
  const unlisted = wanted ? [] : [...known.keys()].filter((f) => !listed.has(f));
  for (const frame of [...frames, ...unlisted]) {
    const stamp = await stampOf(mediaPath(media, frame));
    const before = known.get(frame);
    if (!stamp) {
      if (!before || isGone(before)) continue;
      await registerGone(media, frame);
      count++;
      continue;
    }
    if (before && before.bytes === stamp.size && before.modified_ms === stamp.modified) continue;
    await registerFrame(follow, media, frame, stamp);
    count++;
  }
  return count;
}
