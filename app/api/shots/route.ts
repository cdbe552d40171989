import { addShot } from '@/api/shots';
import { manageNew } from '@/server/access/members';
import { projectOf } from '@/server/access/rights';
import { rootsFor } from '@/server/access/roots';
import { answer } from '@/server/answer';
import { addShotFromFiles } from '@/server/media/add-shot';

/** Creates a shot from frames in folders that this server may read. */
export const POST = answer(addShot, async ({ body: { project, shot, media, stacked }, who }) => {
  const into = await projectOf({ projectName: project });
  const made = await addShotFromFiles(project, shot, media, stacked, await rootsFor(who, into));
  // Who makes a project manages it.
  if (into === undefined) await manageNew(who, project);
  return { shot: made };
});
