import { rows } from '@/server/db/connect';

export const dynamic = 'force-dynamic';

/** Answers once the server and its database do. */
export async function GET() {
  await rows('SELECT 1');
  return Response.json({ ok: true });
}
