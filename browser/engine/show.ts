import { planOf } from '../../core/evaluate/plan/plan';
import type { FrameSource, Progress } from '../../core/evaluate/run';
import { type Finish, passesUsed } from '../../core/finish/finish';
import type { Shown } from './answers';
import { type Look, lookOn } from './look-on';
import type { Queue } from './queue';

export type Transfer = <T extends object>(what: T, parts: Transferable[]) => T;

/** The picture for the viewer. */
export function showing(queue: Queue, source: FrameSource, transfer: Transfer) {
  /** The frames beside the playhead, once it has stopped. */
  let resting: ReturnType<typeof setTimeout> | undefined;
  function fetchAhead(finish: Finish, frame: number) {
    clearTimeout(resting);
    resting = setTimeout(async () => {
      for (const next of [frame + 1, frame - 1])
        for (const head of finish.strands.flatMap((s) => passesUsed(s.head)))
          await source.ahead?.(head, next);
    }, 300);
  }

  return {
    /**
     * The picture at a place, at each of `scales` in turn, handed over as soon as it is ready. Resolves when the last is shown, or when a
     * newer request has overtaken it. `progress` is told what is worked on.
     */
    show: (
      number: number,
      look: Look,
      scales: number[],
      ready: (shown: Shown) => void,
      progress?: (progress: Progress) => void,
    ) =>
      queue('viewer', number, async (found) => {
        const run = { ...found, progress };
        const { request } = look;
        // What is here whole already needs no draft before it.
        const whole = planOf({ ...request, scale: 1 }, source.identity).key;
        for (const scale of run.cache.has(whole) ? [scales[scales.length - 1]] : scales) {
          const began = performance.now();
          await lookOn(run, look, scale, ({ picture, seen, pixels, other, region, range }) => {
            const { width, height } = picture;
            const data = seen.data.slice();
            const millis = performance.now() - began;
            const { frame } = request;
            const shown: Shown = { width, height, data, pixels, other, frame, millis, scale, region, range };
            ready(transfer(shown, [data.buffer, pixels.buffer, ...(other ? [other.buffer] : [])]));
          });
        }
        fetchAhead(request.finish, request.frame);
        return true;
      }),
    /** Ends the request for the viewer: what is shown stays. */
    stopShowing: (number: number) => queue('viewer', number, async () => true),
  };
}
