import * as v from 'valibot';
import { type Encoding, encodings } from '@/core/colour/encoding';
import { type GapRule, gapRules } from '@/core/formats/gap-rules';
import { answer, BadRequest } from '@/server/answer';
import { keysOf } from '@/server/keys-of';
import { addShotFromFiles } from '@/server/media/add-shot';

const text = (what: string, most = 200) =>
  v.pipe(v.string(), v.trim(), v.minLength(1, `${what} is missing.`), v.maxLength(most));
const body = v.object({
  project: text('The project’s name'),
  shot: text('The shot’s name'),
  media: v.pipe(
    v.array(
      v.object({
        pattern: text('The path of the frames', 2000),
        gaps: v.optional(v.picklist(keysOf<GapRule>(gapRules))),
        encoding: v.optional(v.picklist(keysOf<Encoding>(encodings))),
      }),
    ),
    v.minLength(1, 'Choose frames first.'),
    v.maxLength(200, 'A shot takes up to 200 sequences.'),
  ),
  stacked: v.optional(v.boolean(), false),
});

/** Makes a shot from frames that lie where this server may read them. */
export const POST = (request: Request) =>
  answer(async () => {
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest(given.issues[0].message);
    const { project, shot, media, stacked } = given.output;
    return { shot: await addShotFromFiles(project, shot, media, stacked) };
  });
