import * as v from 'valibot';
import { parseFinish } from '@/core/finish/validation';
import { answer, BadRequest, NotFound, wholeNumber } from '@/server/answer';
import { loadFinish, saveFinish } from '@/server/shots/finishes';

type At = { params: Promise<{ finish: string }> };

const gone = 'This finish is not there any more.';

export const GET = (_: Request, { params }: At) =>
  answer(async () => {
    const finish = await loadFinish(wholeNumber((await params).finish));
    if (!finish) throw new NotFound(gone);
    return finish;
  });

const body = v.object({
  from: v.pipe(v.number(), v.integer()),
  says: v.pipe(v.string(), v.maxLength(500)),
  document: v.unknown(),
});

/** Saves a version made from version `from`; 409 with the newest version where somebody saved in between. */
export const PUT = (request: Request, { params }: At) =>
  answer(async () => {
    const id = wholeNumber((await params).finish);
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest('The save was not understood. Reload the page.');
    const { from, says, document } = given.output;
    const saved = await saveFinish(id, from, parseFinish(document), says);
    if (!saved) throw new NotFound(gone);
    if ('conflict' in saved) return Response.json({ newest: saved.conflict }, { status: 409 });
    return saved;
  });
