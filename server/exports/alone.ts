import { fork } from 'node:child_process';
import type { FrameDone, FrameJob } from '../../engine/node/render-frame';

/** The process that rendered a frame ended before it could say how that went. */
export class ProcessEnded extends Error {}

/**
 * Renders a frame in a process of its own, so that whatever it does is its doing alone: it ends neither its neighbours nor whoever asks.
 * @throws {ProcessEnded} where the frame ended its process; {Error} where it cannot be rendered, or `signal` was aborted.
 */
export function renderAlone(job: FrameJob, signal: AbortSignal): Promise<FrameDone> {
  return new Promise((resolve, reject) => {
    const child = fork(new URL('./render-alone.mjs', import.meta.url), { signal, killSignal: 'SIGKILL' });
    child.once('message', (said: { done: FrameDone } | { failed: string }) =>
      'done' in said ? resolve(said.done) : reject(new Error(said.failed)),
    );
    child.once('error', reject);
    child.once('exit', (code, how) => reject(new ProcessEnded(`It ended with ${how ?? code}.`)));
    child.send(job);
  });
}
