import { answer } from '@/server/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { idsAsked } from '@/server/media/ids-asked';
import { objectsOf } from '@/server/media/reader/reader';

type At = { params: Promise<{ media: string; frame: string }> };

/** The objects of an id pass (`?pass=&sort=`) on a frame, by the share they cover; those known but not in sight at 0. */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const ids = idsAsked(new URL(request.url).searchParams)!;
    return objectsOf({ ...(await frameQuestion(params)), ...ids });
  });
