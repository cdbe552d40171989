import { followShot } from '@/api/events';
import { answer } from '@/server/answer';
import { newestChange } from '@/server/changes/changes';
import { eventStream } from '@/server/changes/stream';

/** What changes in a shot, from a change on (`?after=`, or where the browser's own header says that it stopped). */
export const GET = answer(followShot, async ({ params, query }, request) => {
  const last = request.headers.get('last-event-id');
  const asked = last !== null && /^\d{1,9}$/.test(last) ? Number(last) : query.after;
  const after = asked ?? (await newestChange(params.shot));
  return new Response(eventStream(params.shot, after, request.signal), {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
  });
});
