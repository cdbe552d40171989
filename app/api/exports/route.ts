import * as v from 'valibot';
import { forOutput } from '@/core/finish/finish';
import { parseFinish } from '@/core/finish/validation';
import { parseFrames } from '@/core/formats/frame-pattern';
import { formats } from '@/engine/node/encode';
import { answer, BadRequest, wholeNumber } from '@/server/answer';
import { createExport, listExports } from '@/server/exports/exports';

const body = v.object({
  shot: v.pipe(v.number(), v.integer()),
  document: v.unknown(),
  frames: v.string(),
  /** A named output in place of the finished picture. */
  output: v.optional(v.string()),
  format: v.picklist(Object.keys(formats) as (keyof typeof formats)[]),
  name: v.pipe(
    v.string(),
    v.regex(/^[\w.-]{1,120}$/, 'A file name has letters, digits, dots, dashes and underscores.'),
  ),
});

/** Exports of a shot (`?shot=`), newest first. */
export const GET = (request: Request) =>
  answer(async () => listExports(wholeNumber(new URL(request.url).searchParams.get('shot') ?? '')));

export const POST = (request: Request) =>
  answer(async () => {
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest(given.issues[0].message);
    const { shot, document, frames, format, name, output } = given.output;
    let list: number[];
    try {
      list = parseFrames(frames);
    } catch (error) {
      throw new BadRequest((error as Error).message);
    }
    const whole = parseFinish(document);
    const [finish, baseName] = output ? [forOutput(whole, output), `${name}_${output}`] : [whole, name];
    return { run: await createExport(shot, finish, list, format, baseName) };
  });
