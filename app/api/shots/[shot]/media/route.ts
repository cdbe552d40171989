import { addMedia } from '@/api/shots';
import { answer } from '@/server/answer';
import { addMediaFromFiles } from '@/server/media/add-shot';

/** More frames for a shot, from folders that this server may read. */
export const POST = answer(addMedia, async ({ params, body }) => ({
  names: await addMediaFromFiles(params.shot, body.media),
}));
