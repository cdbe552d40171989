import { addShot } from '@/api/shots';
import { manageNew } from '@/server/access/members';
import { projectOf } from '@/server/access/rights';
import { rootsFor } from '@/server/access/roots';
import { answer, Refused } from '@/server/http/answer';
import { addShotFromFiles } from '@/server/shots/add-shot';

/** Creates a shot from frames in folders that this server may read. */
export const POST = answer(addShot, async ({ body: { project, shot, media, stacked }, who }) => {
  const into = await projectOf({ projectName: project });
  if (into === undefined && !who.makesProjects)
    throw new Refused(
      'forbidden',
      `There is no project ${project} that you may change, and you may not make one.`,
      'Choose one of your projects, or ask an administrator.',
    );
  const made = await addShotFromFiles(project, shot, media, stacked, await rootsFor(who, into));
  // Who makes a project manages it.
  if (into === undefined) await manageNew(who, project);
  return { shot: made };
});
