import * as v from 'valibot';
import { answer, BadRequest } from '@/server/answer';
import { copyFinish } from '@/server/shots/finishes';

const body = v.object({
  copy: v.pipe(v.number(), v.integer()),
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(200)),
});

/** A copy of a finish, beside it in its shot. */
export const POST = (request: Request) =>
  answer(async () => {
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest('Name the copy, with at most 200 letters.');
    return { finish: await copyFinish(given.output.copy, given.output.name) };
  });
