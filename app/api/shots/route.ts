import { addShot } from '@/api/shots';
import { answer } from '@/server/answer';
import { addShotFromFiles } from '@/server/media/add-shot';

/** Creates a shot from frames in folders that this server may read. */
export const POST = answer(addShot, async ({ body: { project, shot, media, stacked } }) => ({
  shot: await addShotFromFiles(project, shot, media, stacked),
}));
