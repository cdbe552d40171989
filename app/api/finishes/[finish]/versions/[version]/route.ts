import { nameVersion as nameVersionRoute, readVersion } from '@/api/finishes';
import { answer } from '@/server/http/answer';
import { loadVersion, nameVersion } from '@/server/shots/finishes';

export const GET = answer(readVersion, ({ params }) => loadVersion(params.finish, params.version));

export const PATCH = answer(nameVersionRoute, async ({ params, body }) => {
  await nameVersion(params.finish, params.version, body.name || null);
  return {};
});
