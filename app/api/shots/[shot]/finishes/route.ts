import { addFinish as route } from '@/api/finishes';
import { parseFinish } from '@/core/finish/validation';
import { answer } from '@/server/http/answer';
import { addFinish } from '@/server/shots/finishes';

/** A document as another finish of the shot. */
export const POST = answer(route, async ({ params, body }) => ({
  finish: await addFinish(params.shot, parseFinish(body.document), body.label),
}));
