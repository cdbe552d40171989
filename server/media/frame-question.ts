import { frameFile } from '@/engine/node/media';
import { wholeNumber } from '../answer';
import { specOf, wantedMedia } from './frames';

/** What a question about a frame's file begins with, from the two numbers of a route. */
export async function frameQuestion(params: Promise<{ media: string; frame: string }>) {
  const { media: id, frame: number } = await params;
  const media = await wantedMedia(wholeNumber(id));
  const frame = wholeNumber(number);
  const wishes = specOf(media);
  const { path } = frameFile({ [media.name]: wishes }, media.name, frame);
  return { path, about: `Frame ${frame}: `, wishes };
}
