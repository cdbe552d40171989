import * as v from 'valibot';
import { addressOf } from '../../api/contract';
import { eventMessage, followShot, type ShotEvent } from '../../api/events';

/** A page that nobody looks at gives its connection back after this long: browsers allow few to one server. */
const hiddenMillis = 10_000;

/**
 * Follows what changes in a shot from change `after` on. A connection that is lost comes back by itself and goes on where it stopped; `lost`
 * says that it is not there just now.
 */
export function followEvents(
  shot: number,
  after: number,
  hear: (event: ShotEvent) => void,
  lost: (lost: boolean) => void,
): () => void {
  let seq = after;
  let source: EventSource | undefined;
  let hidden: ReturnType<typeof setTimeout> | undefined;
  let again: ReturnType<typeof setTimeout> | undefined;

  const open = () => {
    if (source) return;
    clearTimeout(again);
    const made = new EventSource(addressOf(followShot, { params: { shot }, query: { after: seq } }));
    source = made;
    made.onopen = () => lost(false);
    made.onmessage = ({ data }) => {
      const found = v.safeParse(eventMessage, JSON.parse(data));
      // Of another version of Zafiro: all is asked for anew.
      if (!found.success) return hear({ type: 'missed' });
      seq = found.output.seq;
      for (const event of found.output.events) hear(event);
    };
    made.onerror = () => {
      lost(true);
      // The browser comes back by itself but after an answer that is no stream.
      if (made.readyState !== EventSource.CLOSED) return;
      source = undefined;
      again = setTimeout(open, 1000);
    };
  };
  const close = () => {
    clearTimeout(again);
    source?.close();
    source = undefined;
  };
  const seen = () => {
    clearTimeout(hidden);
    if (document.visibilityState === 'visible') open();
    else hidden = setTimeout(close, hiddenMillis);
  };
  document.addEventListener('visibilitychange', seen);
  // A page that comes back out of the browser's cache has lost its connection.
  window.addEventListener('pageshow', seen);
  open();
  return () => {
    clearTimeout(hidden);
    document.removeEventListener('visibilitychange', seen);
    window.removeEventListener('pageshow', seen);
    close();
  };
}
