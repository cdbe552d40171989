import { addMedia } from '@/api/shots';
import { projectOf } from '@/server/access/rights';
import { rootsFor } from '@/server/access/roots';
import { answer } from '@/server/http/answer';
import { addMediaFromFiles } from '@/server/shots/add-shot';

/** More frames for a shot, from folders that this server may read. */
export const POST = answer(addMedia, async ({ params, body, who }) => ({
  names: await addMediaFromFiles(
    params.shot,
    body.media,
    await rootsFor(who, await projectOf({ shot: params.shot })),
  ),
}));
