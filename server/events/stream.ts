import { setTimeout as sleep } from 'node:timers/promises';
import type { EventMessage } from '../../api/events';
import { hasSpace } from '../base/free-space';
import { listen } from '../changes/bus';
import { eventsAfter } from './after';

/** Should a message of the bus be lost, the stream looks by itself; a line that is quiet this long shows that it is alive. */
const quietMillis = 15_000;
/** Changes that follow one another closely are sent together. */
const gatherMillis = 40;

/**
 * Server-Sent Events of a shot from change `after` on. Where the database fails the stream ends: the browser comes back by itself and says
 * what it has.
 */
export function eventStream(shot: number, after: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  const text = new TextEncoder();
  return new ReadableStream<Uint8Array>({
    async start(to) {
      let wake = () => {};
      let changed = true;
      const end = listen('shot', (message) => {
        if (message.shot !== shot) return;
        changed = true;
        wake();
      });
      // What was sent about the disk, and its state now.
      let sent: boolean | undefined;
      let full = !(await hasSpace().catch(() => true));
      const endSpace = listen('space', (message) => {
        full = message.full;
        wake();
      });
      signal.addEventListener('abort', () => wake(), { once: true });
      let seq = after;
      try {
        to.enqueue(text.encode('retry: 500\n\n'));
        while (!signal.aborted) {
          changed = false;
          if (sent !== full) {
            sent = full;
            const message: EventMessage = { seq, events: [{ type: 'disk', full }] };
            to.enqueue(text.encode(`data: ${JSON.stringify(message)}\n\n`));
          }
          const found = await eventsAfter(shot, seq);
          seq = found.seq;
          if (found.events.length > 0) {
            const message: EventMessage = found;
            to.enqueue(text.encode(`id: ${seq}\ndata: ${JSON.stringify(message)}\n\n`));
          } else to.enqueue(text.encode(': here\n\n'));
          if (!changed)
            await new Promise<void>((done) => {
              const timer = setTimeout(done, quietMillis);
              wake = () => {
                clearTimeout(timer);
                done();
              };
              if (changed || sent !== full || signal.aborted) wake();
            });
          if (!signal.aborted) await sleep(gatherMillis);
        }
      } catch (error) {
        if (!signal.aborted) console.error(error);
      } finally {
        end();
        endSpace();
        try {
          to.close();
        } catch {
          // The reader left.
        }
      }
    },
  });
}
