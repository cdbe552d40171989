import { readdir, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { frameOf, parsePattern } from '../../core/formats/frame-pattern';
import { codeOf, fileProblem, MediaError } from '../../engine/node/media-file';
import { changing } from '../changes/changes';
import { type Row, rows } from '../db/connect';
import { filesArrived } from '../exports/arrivals';
import { type Media, mediaPath, specOf, thumbnailFolder, thumbnailHeight } from './frames';
import type { LookAnswer } from './reader/answers';
import { lookAt } from './reader/reader';
import { insideRoots } from './roots';

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
async function registerFrame(media: Media, frame: number, { size, modified }: Stamp): Promise<void> {
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
      thumbnails: { folder: thumbnailFolder(media.encoding), height: thumbnailHeight },
    });
    problem = found.partial ? `Frame ${frame}: ${path} is partial. ${found.partial}` : null;
  } catch (error) {
    if (isWorthAnotherLook(path, error)) known = 0;
    problem = error instanceof MediaError ? error.message : `Frame ${frame}: ${path} ${fileProblem(error)}`;
  }
  const { content = '', width = null, height = null, passes, partial } = found;
  const state = !content ? 'failed' : partial ? 'partial' : 'ready';
  await changing(async (c, note) => {
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
    await filesArrived(c, note, shot, { media: media.name, frame });
  });
}

/** Frames of a media whose files are there, by one look into their folder. */
async function framesThere(media: Media): Promise<number[]> {
  const pattern = parsePattern(media.pattern);
  if (pattern.still) return [1];
  const folder = dirname(`${pattern.before}x`);
  const names = await readdir(folder).catch(() => []);
  const inside = folder === '/' ? '/' : `${folder}/`;
  return names
    .map((name) => frameOf(pattern, inside + name))
    .filter((f) => f !== undefined)
    .filter((f) => f >= media.first && f <= media.last)
    .sort((a, b) => a - b);
}

/**
 * Looks for files of the media's frames that are new or have changed, of all or of the frames named, and registers them. Gives how many.
 */
export async function registerArrivals(media: Media, wanted?: readonly number[]): Promise<number> {
  const frames = wanted ?? (await framesThere(media));
  const known = new Map(
    (
      await rows<{ frame: number; bytes: number; modified_ms: number }>(
        'SELECT frame, bytes, modified_ms FROM media_frame WHERE media_id = ?',
        [media.id],
      )
    ).map((r) => [r.frame, r]),
  );
  let count = 0;
  for (const frame of frames) {
    const stamp = await stampOf(mediaPath(media, frame));
    if (!stamp) continue;
    const before = known.get(frame);
    if (before && before.bytes === stamp.size && before.modified_ms === stamp.modified) continue;
    await registerFrame(media, frame, stamp);
    count++;
  }
  return count;
}
