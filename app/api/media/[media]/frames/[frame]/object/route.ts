import { readObject } from '@/api/media';
import { answer } from '@/server/http/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { objectAt } from '@/server/media/reader/reader';

/** The object at a pixel, by the id pass asked for or that of the frame. */
export const GET = answer(readObject, async ({ params, query: { x, y, pass, idFormat } }, { signal }) => {
  const of = pass !== undefined && idFormat ? { pass, idFormat } : undefined;
  return objectAt({ ...(await frameQuestion(params)), of, x, y }, signal);
});
