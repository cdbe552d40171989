import { frameFile } from '@/engine/node/media';
import { answer, wholeNumber } from '@/server/answer';
import { specOf, wantedMedia } from '@/server/media/frames';
import { objectAt } from '@/server/media/reader/reader';

type At = { params: Promise<{ media: string; frame: string }> };

/** The object at a pixel (`?x=&y=`, of the display window), by the frame's id passes. */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const { media: id, frame: number } = await params;
    const media = await wantedMedia(wholeNumber(id));
    const frame = wholeNumber(number);
    const wishes = specOf(media);
    const query = new URL(request.url).searchParams;
    const [x, y] = ['x', 'y'].map((axis) => wholeNumber(query.get(axis) ?? ''));
    const { path } = frameFile({ [media.name]: wishes }, media.name, frame);
    return objectAt({ path, about: `Frame ${frame}: `, wishes, x, y });
  });
