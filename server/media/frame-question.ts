import { frameFile } from '../../engine/node/media';
import { specOf, wantedMedia } from './frames';

/** What a question about a frame's file begins with. @throws {NotFound} */
export async function frameQuestion({ media: id, frame }: { media: number; frame: number }) {
  const media = await wantedMedia(id);
  const wishes = specOf(media);
  const { path } = frameFile({ [media.name]: wishes }, media.name, frame);
  return { path, about: `Frame ${frame}: `, wishes };
}
