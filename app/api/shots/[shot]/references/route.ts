import { addReference as addRoute, listReferences } from '@/api/references';
import { answer } from '@/server/http/answer';
import { addReference, referencesOf } from '@/server/shots/references';

export const GET = answer(listReferences, ({ params }) => referencesOf(params.shot));

export const POST = answer(addRoute, ({ params, body: { webp, ...described } }) =>
  addReference(params.shot, { ...described, picture: Buffer.from(webp, 'base64') }),
);
