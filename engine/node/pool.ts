import { availableParallelism, totalmem } from 'node:os';
import workerpool from 'workerpool';
import { limitedFork, megabytesOf, mostReadSeconds, watchEvery } from './limited';
import type { FrameDone, FrameJob } from './render-frame';
import type { Reading } from './render-process';

/** The process that rendered a frame ended, by itself or since it took too much, before it could say how that went. */
export class ProcessEnded extends Error {}

/** It ended, or had ended, before it began with the frame. */
class NotBegun extends ProcessEnded {}
/** Number of processes that are tried if a process ends before it starts the frame. */
const mostTries = 5;

const closed = () => new Error('Nothing more is rendered.');

export type RenderPool = {
  /**
   * Renders a frame in a process that has no other frame, so that whatever it does is its doing alone: it ends neither its neighbours nor
   * whoever asks.
   * @throws {ProcessEnded} where it ended its process, or took more time or memory than is allowed; {Error} where it cannot be rendered, or
   * `signal` was aborted.
   */
  render(job: FrameJob, signal?: AbortSignal): Promise<FrameDone>;
  processes: number;
  /** Frames that are rendered at a time, as far as is known: one until the first has shown how much memory it takes. */
  places(): number;
  close(): Promise<void>;
};

/** Processes that have had nothing to do for so long end, and their memory with them. */
const idleMillis = 60_000;

/** Megabytes that one of so many processes may hold: what is left of the machine is for others, but a large frame must fit. */
const mostMegabytes = (processes: number) =>
  Number(process.env.ZAFIRO_RENDER_MEGABYTES) ||
  Math.max(4096, Math.round((0.6 * totalmem()) / 2 ** 20 / processes));

type Pool = ReturnType<typeof workerpool.pool>;

/** Megabytes that all of them may hold together. */
const mostTogether = () =>
  Number(process.env.ZAFIRO_MEMORY_MEGABYTES) || Math.round((0.6 * totalmem()) / 2 ** 20);

/**
 * Processes that render frames side by side, one a core; they are started as they are needed. As many frames are rendered at a time as fit into
 * memory, by the most that a process has held so far; one that is alone, as the first is, has all threads.
 */
export function renderPool(processes = availableParallelism()): RenderPool {
  let [pool, running, idle]: [Pool | undefined, number, NodeJS.Timeout | undefined] = [
    undefined,
    0,
    undefined,
  ];
  const most = mostMegabytes(processes);
  const together = mostTogether();
  /** The most that a process has held; 0 while no frame has been rendered. */
  let peak = 0;
  /** Frames that wait for a place: `begin` gives it, `leave` takes it from the line. */
  let waiting: { begin(): void; leave(reason: unknown): void }[] = [];
  const places = () => (peak === 0 ? 1 : Math.max(1, Math.min(processes, Math.floor(together / peak))));
  const next = () => {
    while (waiting.length > 0 && running < places()) {
      running++;
      waiting.shift()!.begin();
    }
  };
  /** Waits for a place among the frames that are rendered. */
  const place = (signal?: AbortSignal) =>
    new Promise<void>((begin, refused) => {
      const abort = () => entry.leave(signal!.reason);
      const entry = {
        begin() {
          signal?.removeEventListener('abort', abort);
          begin();
        },
        leave(reason: unknown) {
          waiting = waiting.filter((w) => w !== entry);
          signal?.removeEventListener('abort', abort);
          refused(reason);
        },
      };
      waiting.push(entry);
      signal?.addEventListener('abort', abort, { once: true });
      next();
    });
  /** Nothing more is rendered, and no process is started for what is still on its way. */
  let isClosed = false;
  const endProcesses = async () => {
    clearTimeout(idle);
    const ending = pool;
    pool = undefined;
    await ending?.terminate(true);
  };
  const close = async () => {
    isClosed = true;
    for (const { leave } of waiting) leave(closed());
    await endProcesses();
  };
  const open = () =>
    workerpool.pool(new URL('./render-process.mjs', import.meta.url).pathname, {
      workerType: 'process',
      maxWorkers: processes,
      forkOpts: limitedFork(),
    });
  /** Renders once; where no process had begun with it the frame is not to blame, and `NotBegun` is thrown. */
  async function once(job: FrameJob, signal?: AbortSignal): Promise<FrameDone> {
    if (isClosed) throw closed();
    pool ??= open();
    let [now, since, why] = [undefined as Reading | undefined, 0, ''];
    const work = pool.exec('render', [job], {
      on: (said: Reading) => {
        [now, since] = [said, performance.now()];
      },
    });
    // A process that computes hears nothing: it is ended, and the pool starts another.
    const end = (because: string) => {
      why = because;
      if (now) process.kill(now.pid, 'SIGKILL');
      else work.cancel();
    };
    const abort = () => end('It was not wanted any more.');
    signal?.addEventListener('abort', abort);
    const watch = setInterval(() => {
      if (!now) return;
      if (now.path && performance.now() - since > mostReadSeconds * 1000)
        end(
          `Reading ${now.path} took longer than ${mostReadSeconds} s. The file is damaged or too large: render or copy it again.`,
        );
      else if (megabytesOf(now.pid) > most)
        end(
          `Rendering it took more than ${most} MB${now.path ? ` when ${now.path} was read` : ''}. Render smaller pictures, or raise ZAFIRO_RENDER_MEGABYTES.`,
        );
    }, watchEvery);
    try {
      return (await work) as FrameDone;
    } catch (error) {
      signal?.throwIfAborted();
      const { message } = error as Error;
      // What the pool says of a process that is gone: its end, or that it could not be written to.
      const ended = /terminated|^Workerpool Worker/.test(message);
      const words = `Frame ${job.frame}: ${why || (ended ? 'Rendering it ended its process.' : message)}`;
      // A process reports its start before it works on the frame: an earlier failure is the process's, whatever its message.
      if (!now) throw new NotBegun(words);
      if (!why && !ended) throw error;
      throw new ProcessEnded(words);
    } finally {
      clearInterval(watch);
      signal?.removeEventListener('abort', abort);
    }
  }

  return {
    processes,
    places,
    close,
    async render(job, signal) {
      signal?.throwIfAborted();
      if (isClosed) throw closed();
      clearTimeout(idle);
      await place(signal);
      try {
        for (let tries = 1; ; tries++)
          try {
            // All threads where no other frame is rendered, or will be soon.
            const alone = running === 1 && (waiting.length === 0 || places() === 1);
            const done = await once({ ...job, threads: alone ? processes : 1 }, signal);
            peak = Math.max(peak, done.megabytes);
            return done;
          } catch (error) {
            if (!(error instanceof NotBegun) || isClosed || tries === mostTries) throw error;
          }
      } finally {
        running--;
        next();
        if (running === 0 && !isClosed) idle = setTimeout(endProcesses, idleMillis).unref();
      }
    },
  };
}
