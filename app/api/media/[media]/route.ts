import { changeMedia as route } from '@/api/media';
import { answer } from '@/server/http/answer';
import { changeMedia } from '@/server/shots/shots';

/** Changes how a media is read: its gaps, its encoding (null: as its files say), kinds of its passes. */
export const PATCH = answer(route, async ({ params, body }) => {
  await changeMedia(params.media, body);
  return {};
});
