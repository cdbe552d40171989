import { addProject as route } from '@/api/shelf';
import { manageNew } from '@/server/access/members';
import { projectOf, roleIn } from '@/server/access/rights';
import { answer, Refused } from '@/server/http/answer';
import { addProject } from '@/server/shots/arrange';

export const POST = answer(route, async ({ body: { name }, who }) => {
  const there = await projectOf({ projectName: name });
  // One that was deleted comes back by its name: for those alone who might restore it.
  if (there !== undefined && (await roleIn(there, who)) !== 'manage')
    throw new Refused('conflict', `There is a project ${name} already.`, 'Choose another name.');
  const project = await addProject(name);
  await manageNew(who, project);
  return { project };
});
