import { addReference as addRoute, listReferences } from '@/api/references';
import { answer } from '@/server/answer';
import { addReference, referencesOf } from '@/server/shots/references';

export const GET = answer(listReferences, ({ params }) => referencesOf(params.shot));

export const POST = answer(addRoute, async ({ params, body: { webp, ...described } }) => ({
  id: await addReference(params.shot, { ...described, picture: Buffer.from(webp, 'base64') }),
}));
