import * as v from 'valibot';
import { type Encoding, encodings } from '@/core/colour/encoding';
import { type GapRule, gapRules } from '@/core/formats/gap-rules';
import { type PassKind, passKinds } from '@/core/formats/pass-kinds';
import { answer, BadRequest, NotFound, wholeNumber } from '@/server/answer';
import { keysOf } from '@/server/keys-of';
import { changeMedia } from '@/server/shots/shots';

type At = { params: Promise<{ media: string }> };

const body = v.object({
  gaps: v.optional(v.picklist(keysOf<GapRule>(gapRules))),
  encoding: v.optional(v.nullable(v.picklist(keysOf<Encoding>(encodings)))),
  kinds: v.optional(v.record(v.string(), v.picklist(keysOf<PassKind>(passKinds)))),
});

/** Changes how a media is read: its gaps, its encoding (null: as its files say), kinds of its passes. */
export const PATCH = (request: Request, { params }: At) =>
  answer(async () => {
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest('The change was not understood. Reload the page.');
    const changed = await changeMedia(wholeNumber((await params).media), given.output);
    if (!changed) throw new NotFound('This media is not there any more.');
    return {};
  });
