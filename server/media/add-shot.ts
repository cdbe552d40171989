import { readdirSync } from 'node:fs';
import { basename, dirname, isAbsolute } from 'node:path';
import { newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { boxHeight, boxWidth } from '../../core/formats/exr/types';
import { frameOf, parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { strandKind } from '../../core/formats/passes';
import { fileProblem, frameInfo, MediaError, readBytes } from '../../engine/node/media-file';
import { type Row, transaction } from '../db/connect';
import { insertFinish } from '../shots/finishes';

export type NewShot = {
  project: string;
  shot: string;
  media: string;
  pattern: string;
  first: number;
  last: number;
  rate: number;
  width: number;
  height: number;
  finish: Finish;
};

/** Writes a project (or finds it by name), a shot with one media, and its first finish. */
export async function insertShot(s: NewShot): Promise<number> {
  return transaction(async (c) => {
    const [known] = await c.query<Row[]>('SELECT id FROM project WHERE name = ?', [s.project]);
    const project =
      known[0]?.id ??
      (await c.query<Row[]>('INSERT INTO project (name) VALUES (?) RETURNING id', [s.project]))[0][0].id;
    const [shot] = await c.query<Row[]>(
      `INSERT INTO shot (project_id, name, first_frame, last_frame, rate, width, height)
       VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id`,
      [project, s.shot, s.first, s.last, s.rate, s.width, s.height],
    );
    const id = shot[0].id as number;
    await c.query(
      'INSERT INTO media (shot_id, name, pattern, first_frame, last_frame) VALUES (?, ?, ?, ?, ?)',
      [id, s.media, s.pattern, s.first, s.last],
    );
    await insertFinish(c, id, s.finish, 'begin');
    return id;
  });
}

/** Letters and digits of a file name, for the name that finishes use. */
const plainName = (text: string) => text.replace(/[^A-Za-z0-9]+/g, '_').replace(/^_+|_+$/g, '') || 'frames';

/**
 * A shot from numbered EXR frames that lie where this server may read them; they stay there.
 * @throws {MediaError} naming the pattern or the file and what to do.
 */
export async function addShotFromFiles(project: string, shot: string, text: string): Promise<number> {
  if (!isAbsolute(text)) throw new MediaError(`“${text}” is not a whole path. Begin it with /.`);
  const pattern = parsePattern(text);
  let frames = [1];
  if (!pattern.still) {
    const folder = dirname(`${pattern.before}x`);
    let names: string[];
    try {
      names = readdirSync(folder);
    } catch (error) {
      throw new MediaError(`The folder ${folder} ${fileProblem(error)}`);
    }
    const found = names.map((n) => frameOf(pattern, `${folder === '/' ? '' : folder}/${n}`));
    frames = found.filter((f) => f !== undefined).sort((a, b) => a - b);
    if (pattern.range) frames = frames.filter((f) => f >= pattern.range![0] && f <= pattern.range![1]);
    if (frames.length === 0) {
      throw new MediaError(
        `No file in ${folder} matches ${basename(text)}. Write the number as ####, %04d or [1-24].`,
      );
    }
  }
  const path = pathOf(pattern, frames[0]);
  const { header, passes } = frameInfo(path, readBytes(path, ''));
  const media = plainName(basename(pattern.before));
  const head = { type: 'pass', media, pass: passes[0].name } as const;
  const rate = header.attributes.framesPerSecond;
  return insertShot({
    project,
    shot,
    media,
    pattern: text,
    first: frames[0],
    last: frames[frames.length - 1],
    rate: rate?.type === 'rational' && rate.value[1] > 0 ? rate.value[0] / rate.value[1] : 24,
    width: boxWidth(header.displayWindow),
    height: boxHeight(header.displayWindow),
    finish: newFinish('finish', 'First finish', head, strandKind(passes[0])),
  });
}
