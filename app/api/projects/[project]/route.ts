import { changeProject as changeRoute, deleteProject as deleteRoute } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { changeProject } from '@/server/shots/arrange';
import { deleteProject, purgeProject } from '@/server/shots/bin';

export const PATCH = answer(changeRoute, async ({ params, body }) => {
  await changeProject(params.project, body);
  return {};
});

export const DELETE = answer(deleteRoute, async ({ params, query }) => {
  await (query.forever ? purgeProject : deleteProject)(params.project);
  return {};
});
