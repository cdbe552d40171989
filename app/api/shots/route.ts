import { addShot } from '@/api/shots';
import { answer } from '@/server/answer';
import { addShotFromFiles } from '@/server/media/add-shot';

/** Makes a shot from frames that lie where this server may read them. */
export const POST = answer(addShot, async ({ body: { project, shot, media, stacked } }) => ({
  shot: await addShotFromFiles(project, shot, media, stacked),
}));
