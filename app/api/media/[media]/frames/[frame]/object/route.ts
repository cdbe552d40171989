import { answer, wholeNumber } from '@/server/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { idsAsked } from '@/server/media/ids-asked';
import { objectAt } from '@/server/media/reader/reader';

type At = { params: Promise<{ media: string; frame: string }> };

/** The object at a pixel (`?x=&y=`, of the display window), by the id pass asked for (`&pass=&sort=`) or that of the frame. */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const query = new URL(request.url).searchParams;
    const [x, y] = ['x', 'y'].map((axis) => wholeNumber(query.get(axis) ?? ''));
    return objectAt({ ...(await frameQuestion(params)), of: idsAsked(query, false), x, y });
  });
