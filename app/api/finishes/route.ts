import { copyFinish as route } from '@/api/finishes';
import { answer } from '@/server/http/answer';
import { copyFinish } from '@/server/shots/finishes';

/** A copy of a finish, beside it in its shot. */
export const POST = answer(route, async ({ body }) => ({ finish: await copyFinish(body.copy, body.name) }));
