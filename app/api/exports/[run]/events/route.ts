import { setTimeout as sleep } from 'node:timers/promises';
import { answer, NotFound, wholeNumber } from '@/server/answer';
import { findExport, isOver } from '@/server/exports/exports';

type At = { params: Promise<{ run: string }> };

/** Server-Sent Events: the run whenever a frame of it changed, until all frames are over. */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const id = wholeNumber((await params).run);
    if (!(await findExport(id))) throw new NotFound('This export is not there any more.');
    const { signal } = request;
    const text = new TextEncoder();
    const stream = new ReadableStream<Uint8Array>({
      async start(to) {
        let before = '';
        try {
          while (!signal.aborted) {
            const run = await findExport(id);
            const now = JSON.stringify(run);
            if (now !== before) to.enqueue(text.encode(`data: ${now}\n\n`));
            before = now;
            if (!run || isOver(run)) break;
            await sleep(250, undefined, { signal });
          }
          to.close();
        } catch {
          // The reader left.
        }
      },
    });
    return new Response(stream, {
      headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
    });
  });
