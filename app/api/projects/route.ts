import { addProject as route } from '@/api/shelf';
import { answer } from '@/server/answer';
import { addProject } from '@/server/shots/arrange';

export const POST = answer(route, async ({ body: { name } }) => ({ project: await addProject(name) }));
