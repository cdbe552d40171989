import * as v from 'valibot';
import { answer, BadRequest } from '@/server/answer';
import { addShotFromFiles } from '@/server/media/add-shot';

const text = (what: string) =>
  v.pipe(v.string(), v.trim(), v.minLength(1, `${what} is missing.`), v.maxLength(200));
const body = v.object({
  project: text('The project’s name'),
  shot: text('The shot’s name'),
  pattern: v.pipe(
    v.string(),
    v.trim(),
    v.minLength(1, 'The path of the frames is missing.'),
    v.maxLength(2000),
  ),
});

/** Makes a shot from frames that lie where this server may read them. */
export const POST = (request: Request) =>
  answer(async () => {
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest(given.issues[0].message);
    return { shot: await addShotFromFiles(given.output.project, given.output.shot, given.output.pattern) };
  });
