import type { Encoding } from '../../core/colour/encoding';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import type { GapRule } from '../../core/formats/gap-rules';
import type { PassKind } from '../../core/formats/pass-kinds';
import type { MediaSpec, MediaSpecs } from '../../engine/node/media';
import { rows } from '../base/connect';
import { NotFound } from '../base/refusals';

export type Media = {
  id: number;
  name: string;
  pattern: string;
  first: number;
  last: number;
  encoding: Encoding | null;
  gaps: GapRule;
  kinds: Record<string, PassKind> | null;
};

export const mediaColumns =
  'id, name, pattern, first_frame AS first, last_frame AS last, encoding, gaps, kinds';

async function findMedia(id: number): Promise<Media | undefined> {
  return (await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE id = ?`, [id]))[0];
}

/** @throws {NotFound} */
export async function wantedMedia(id: number): Promise<Media> {
  const media = await findMedia(id);
  if (!media) throw new NotFound('This media is not there any more.');
  return media;
}

export const allMedia = () => rows<Media>(`SELECT ${mediaColumns} FROM media`);

/** How the engine is to read a media. */
export const specOf = ({ pattern, gaps, encoding, kinds }: Media): MediaSpec => ({
  pattern,
  gaps,
  encoding: encoding ?? undefined,
  kinds: kinds ?? undefined,
});

export const mediaPath = (media: Media, frame: number) => pathOf(parsePattern(media.pattern), frame);

/** Media of a shot by the names its finishes use. */
export async function mediaOfShot(shotId: number): Promise<MediaSpecs> {
  const media = await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE shot_id = ?`, [shotId]);
  return Object.fromEntries(media.map((m) => [m.name, specOf(m)]));
}
