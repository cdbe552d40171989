import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { writeWhole } from '../../engine/node/write-file';
import { rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { NotFound } from '../base/refusals';
import { type Media, mediaPath, specOf, wantedMedia } from './frames';
import type { ContentsAnswer } from './reader/answers';
import { contentsOf } from './reader/reader';
import { insideRoots } from './roots';

const pictureWidth = 960;

/** Raised when what is counted of a pass is counted otherwise. */
const statisticsVersion = 2;

/** Identifies a content together with how it is read. */
export const contentsName = (content: string, { encoding, kinds }: Pick<Media, 'encoding' | 'kinds'>) =>
  createHash('sha1')
    .update(JSON.stringify([statisticsVersion, content, encoding, kinds]))
    .digest('hex');

/** The folder in which pictures of a frame's passes are kept, by its content and how it is read. */
async function placeOf(mediaId: number, frame: number) {
  const media = await wantedMedia(mediaId);
  const [found] = await rows<{ content: string }>(
    "SELECT content FROM media_frame WHERE media_id = ? AND frame = ? AND state <> 'failed'",
    [mediaId, frame],
  );
  if (!found) throw new NotFound(`Frame ${frame} has not arrived yet.`);
  const read = contentsName(found.content, media);
  return { media, folder: dataPath('passes', read.slice(0, 2), read) };
}

/** Statistics of every pass of a frame. Its pictures: `passPicturePath`. */
export async function frameContents(mediaId: number, frame: number): Promise<ContentsAnswer> {
  const { media, folder } = await placeOf(mediaId, frame);
  const index = `${folder}/index.json`;
  if (existsSync(index)) return JSON.parse(readFileSync(index, 'utf8'));
  const about = `Frame ${frame}: `;
  const contents = await contentsOf({
    path: insideRoots(mediaPath(media, frame), about),
    about,
    wishes: specOf(media),
    folder,
    width: pictureWidth,
  });
  await writeWhole(index, Buffer.from(JSON.stringify(contents)));
  return contents;
}

/** The picture of the n-th pass of `frameContents`. With `soon` only what is there already is given. @throws {NotFound} */
export async function passPicturePath(
  mediaId: number,
  frame: number,
  n: number,
  soon = false,
): Promise<string> {
  const { folder } = await placeOf(mediaId, frame);
  const path = `${folder}/${n}.webp`;
  // Those that are made already need not wait for the others.
  if (existsSync(path)) return path;
  if (soon) throw new NotFound('This pass is not read yet.');
  await frameContents(mediaId, frame);
  if (!existsSync(path)) throw new NotFound('This pass is not there any more.');
  return path;
}
