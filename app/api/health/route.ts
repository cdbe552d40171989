import { readHealth } from '@/api/shots';
import { answer } from '@/server/answer';
import { rows } from '@/server/db/connect';

export const dynamic = 'force-dynamic';

/** Answers once the server and its database do. */
export const GET = answer(readHealth, async () => {
  await rows('SELECT 1');
  return { ok: true as const };
});
