import { followShot } from '@/api/events';
import { whileAllowed } from '@/server/access/still';
import { newestChange } from '@/server/changes/note';
import { eventStream } from '@/server/events/stream';
import { answer } from '@/server/http/answer';

/** Changes of a shot after a given one (`?after=`, or the last one by the browser's own header). */
export const GET = answer(followShot, async ({ params, query, body }, request) => {
  const last = request.headers.get('last-event-id');
  const asked = last !== null && /^\d{1,9}$/.test(last) ? Number(last) : query.after;
  const after = asked ?? (await newestChange(params.shot));
  return new Response(
    eventStream(params.shot, after, whileAllowed(request, followShot, { params, query, body })),
    {
      headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
    },
  );
});
