import { listObjects } from '@/api/media';
import { answer } from '@/server/http/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { objectsOf } from '@/server/media/reader/reader';

/** The objects of an id pass on a frame, by the share they cover; those known but not in sight at 0. */
export const GET = answer(listObjects, async ({ params, query: { pass, idFormat } }, { signal }) =>
  objectsOf({ ...(await frameQuestion(params)), pass, idFormat: idFormat }, signal),
);
