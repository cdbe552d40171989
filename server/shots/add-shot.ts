import { readdirSync, statSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import type { Encoding } from '../../core/colour/encoding';
import { newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import type { GapRule } from '../../core/formats/gap-rules';
import { limits } from '../../core/formats/limits';
import { strandKind } from '../../core/formats/passes';
import { framesOnDisk } from '../../engine/node/media';
import { MediaError } from '../../engine/node/media-file';
import { type Connection, type Row, rows, transaction } from '../base/connect';
import { NotFound, Refused } from '../base/refusals';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import type { LookAnswer } from '../media/reader/answers';
import { lookAt } from '../media/reader/reader';
import { frameRoots, insideRoots, isReadable } from '../media/roots';
import { thumbnailsOf } from '../media/thumbnails';
import { insertFinish } from './finishes';

export type NewMedia = {
  name: string;
  pattern: string;
  first: number;
  last: number;
  gaps?: GapRule;
  encoding?: Encoding;
  /** A frame that was looked at already: it is there at once. */
  known?: KnownFrame;
};

export type NewShot = {
  project: string;
  shot: string;
  media: NewMedia[];
  first: number;
  last: number;
  rate: number;
  width: number;
  height: number;
  finish: Finish;
};

/** Writes a project (or finds it by name), a shot with its media, and its first finish. */
export async function insertShot(s: NewShot): Promise<number> {
  const id = await transaction(async (c) => {
    // The project's row is locked whether it was there or not, so that no two imports take one name at once.
    await c.query(
      'INSERT INTO project (name) VALUES (?) ON DUPLICATE KEY UPDATE deleted_at = NULL, archived = FALSE',
      [s.project],
    );
    const [[{ id: project }]] = await c.query<Row[]>('SELECT id FROM project WHERE name = ?', [s.project]);
    const [same] = await c.query<Row[]>(
      'SELECT id FROM shot WHERE project_id = ? AND name = ? AND deleted_at IS NULL',
      [project, s.shot],
    );
    if (same.length > 0)
      throw new Refused(
        'refused',
        `The project ${s.project} has a shot ${s.shot} already.`,
        'Choose another name for the new shot.',
      );
    const [shot] = await c.query<Row[]>(
      `INSERT INTO shot (project_id, name, first_frame, last_frame, rate, width, height)
       VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id`,
      [project, s.shot, s.first, s.last, s.rate, s.width, s.height],
    );
    const id = shot[0].id as number;
    await insertMedia(c, id, s.media);
    await insertFinish(c, id, s.finish, 'begin');
    return id;
  });
  announce({ zafiro: 'media' });
  return id;
}

async function insertMedia(c: Connection, shot: number, media: readonly NewMedia[]) {
  await c.query(
    'INSERT INTO media (shot_id, name, pattern, first_frame, last_frame, gaps, encoding) VALUES ?',
    [media.map((m) => [shot, m.name, m.pattern, m.first, m.last, m.gaps ?? 'missing', m.encoding ?? null])],
  );
  for (const { name, known } of media) if (known) await insertFrame(c, shot, name, known);
}

type KnownFrame = { frame: number; path: string; look: LookAnswer };

async function insertFrame(c: Connection, shot: number, media: string, { frame, path, look }: KnownFrame) {
  const { size, mtimeMs } = statSync(path);
  await c.query(
    `INSERT INTO media_frame (media_id, frame, state, problem, content, bytes, modified_ms, passes, width, height)
     SELECT id, ?, ?, ?, ?, ?, ?, ?, ?, ? FROM media WHERE shot_id = ? AND name = ?`,
    [
      frame,
      look.partial === undefined ? 'ready' : 'partial',
      look.partial ?? null,
      look.content,
      size,
      Math.round(mtimeMs),
      JSON.stringify(look.passes),
      look.width,
      look.height,
      shot,
      media,
    ],
  );
}

/** Letters and digits of a file name, for the name that finishes use. */
const plainName = (text: string) => text.replace(/[^A-Za-z0-9]+/g, '_').replace(/^_+|_+$/g, '') || 'frames';

/** Frames to import: their files, and how they are read. */
export type Chosen = { pattern: string; gaps?: GapRule; encoding?: Encoding };

/** Names in a folder that are links. */
const linksIn = (folder: string) =>
  new Set(
    readdirSync(folder, { withFileTypes: true })
      .filter((entry) => entry.isSymbolicLink())
      .map((entry) => entry.name),
  );

/** Looks at chosen frames before they become media. @throws {MediaError} */
async function lookAtChosen(
  { pattern: text, gaps, encoding }: Chosen,
  taken: Set<string>,
  roots: readonly string[],
) {
  insideRoots(text, '', roots);
  const pattern = parsePattern(text);
  const frames = framesOnDisk(pattern);
  if (frames.length === 0) {
    throw new MediaError(
      pattern.still
        ? `${text} is not there. Choose another file.`
        : `No file matches ${basename(text)} in its folder. Write the number as ####, %04d or [1-24].`,
      'not-found',
    );
  }
  const path = pathOf(pattern, frames[0]);
  insideRoots(path, `Frame ${frames[0]}: `, roots);
  // A frame may be a link out of the folders: what nobody may read fails by itself later, what others may is refused here.
  const links = linksIn(dirname(path));
  for (const frame of frames)
    if (links.has(basename(pathOf(pattern, frame))) && isReadable(pathOf(pattern, frame)))
      insideRoots(pathOf(pattern, frame), `Frame ${frame}: `, roots);
  const look = await lookAt({
    path,
    about: '',
    wishes: { encoding },
    thumbnails: thumbnailsOf(encoding ?? null),
  });
  const base = plainName(basename(pattern.before).replace(/\.[a-z]+$/i, ''));
  let name = base;
  for (let n = 2; taken.has(name); n++) name = `${base}_${n}`;
  taken.add(name);
  const media: NewMedia = {
    name,
    pattern: text,
    first: frames[0],
    last: frames[frames.length - 1],
    gaps,
    encoding,
    known: { frame: frames[0], path, look },
  };
  return { media, look, still: pattern.still };
}

/**
 * A shot from frames in folders that the server may read; they stay there. Its picture begins at the first of `chosen`, or,
 * as a stack, at all of them, the lowest first.
 * @throws {MediaError} naming the pattern or the file and what to do.
 */
export async function addShotFromFiles(
  project: string,
  shot: string,
  chosen: Chosen[],
  stacked: boolean,
  roots: readonly string[] = frameRoots(),
): Promise<number> {
  const taken = new Set<string>();
  const found: Awaited<ReturnType<typeof lookAtChosen>>[] = [];
  for (const one of chosen) found.push(await lookAtChosen(one, taken, roots));
  const [{ media, look }] = found;
  const moving = found.filter((f) => !f.still).map((f) => f.media);
  const span = moving.length > 0 ? moving : [media];
  const [start, end] = [Math.min(...span.map((m) => m.first)), Math.max(...span.map((m) => m.last))];
  if (end - start >= limits.shotFrames)
    throw new MediaError(
      `The numbers of these frames lie far apart (${start} to ${end}); a shot has at most ${limits.shotFrames} frames. Import each as a still, or a part of them by a pattern like [1-24].`,
      'too-large',
    );
  const head = stacked
    ? {
        type: 'stack' as const,
        layers: found.map((f) => ({
          media: f.media.name,
          pass: f.look.passes[0].name,
          show: true,
          opacity: 1,
        })),
      }
    : { type: 'pass' as const, media: media.name, pass: look.passes[0].name };
  return insertShot({
    project,
    shot,
    media: found.map((f) => f.media),
    first: start,
    last: end,
    rate: look.rate ?? 24,
    width: look.width,
    height: look.height,
    finish: newFinish('finish', 'First finish', head, stacked ? 'picture' : strandKind(look.passes[0])),
  });
}

/**
 * More media for a shot, from frames in folders that the server may read; its range stays as it is. Gives the names that its finishes know them by.
 * @throws {MediaError} @throws {NotFound}
 */
export async function addMediaFromFiles(
  shot: number,
  chosen: Chosen[],
  roots: readonly string[] = frameRoots(),
): Promise<string[]> {
  const there = await rows<{ name: string }>('SELECT name FROM media WHERE shot_id = ?', [shot]);
  const taken = new Set(there.map((m) => m.name));
  const found: NewMedia[] = [];
  for (const one of chosen) found.push((await lookAtChosen(one, taken, roots)).media);
  await changing(async (c, note) => {
    const [[row]] = await c.query<Row[]>(
      'SELECT id FROM shot WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [shot],
    );
    if (!row) throw new NotFound('This shot is not there any more.');
    await insertMedia(c, shot, found);
    note(shot, { what: 'shot' });
  });
  announce({ zafiro: 'media' });
  return found.map((m) => m.name);
}
