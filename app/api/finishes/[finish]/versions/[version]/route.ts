import { labelVersion as labelRoute, readVersion } from '@/api/finishes';
import { answer } from '@/server/answer';
import { labelVersion, loadVersion } from '@/server/shots/finishes';

export const GET = answer(readVersion, ({ params }) => loadVersion(params.finish, params.version));

export const PATCH = answer(labelRoute, async ({ params, body }) => {
  await labelVersion(params.finish, params.version, body.label || null);
  return {};
});
