import { frameFile } from '../../engine/node/media';
import { specOf, wantedMedia } from './frames';
import { insideRoots } from './roots';

/** Common part of questions about a frame's file. @throws {NotFound}, {MediaError} if a link leads out of the roots. */
export async function frameQuestion({ media: id, frame }: { media: number; frame: number }) {
  const media = await wantedMedia(id);
  const wishes = specOf(media);
  const { path, empty } = frameFile({ [media.name]: wishes }, media.name, frame);
  const about = `Frame ${frame}: `;
  return { path: insideRoots(path, about), about, wishes, empty };
}
