import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { dataPath } from '../data-folder';
import { rows } from '../db/connect';

export type Media = { id: number; name: string; pattern: string; first: number; last: number };

const mediaColumns = 'id, name, pattern, first_frame AS first, last_frame AS last';

export async function findMedia(id: number): Promise<Media | undefined> {
  return (await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE id = ?`, [id]))[0];
}

export const allMedia = () => rows<Media>(`SELECT ${mediaColumns} FROM media`);

export const mediaPath = (media: Media, frame: number) => pathOf(parsePattern(media.pattern), frame);

/** Thumbnails are kept by content, so a frame that is rendered again gets a new one. */
export const thumbnailPath = (content: string) =>
  dataPath('thumbnails', content.slice(0, 2), `${content}.webp`);
