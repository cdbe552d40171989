import { readHealth } from '@/api/shots';
import { answer } from '@/server/http/answer';
import { partsNow } from '@/server/http/health';

export const dynamic = 'force-dynamic';

/** Answers once the server and its database do, and says of the other parts whether they do their work. */
export const GET = answer(readHealth, async ({ query }) =>
  query.only ? { ok: true as const } : { ok: true as const, parts: await partsNow() },
);
