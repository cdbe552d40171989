import { setTimeout as sleep } from 'node:timers/promises';
import type { Command } from 'commander';
import { pathOf } from '../core/formats/frame-pattern';
import { declared, UsageError } from '../engine/node/command-line';
import { addToRecord, keyOfStanding, readRecord, recordOf } from '../engine/node/frame-record';
import { renderPool } from '../engine/node/pool';
import { type Due, frameArrivals } from './arrivals';
import {
  addFinishOptions,
  type FinishWords,
  finishTask,
  framesThere,
  refuseOverwriting,
} from './finish-options';

const tickMillis = 100;

/** `zafiro watch`. */
export const declareWatch = (program: Command): void =>
  void addFinishOptions(
    declared(
      program,
      'watch',
      'Finishes frames as soon as they are rendered, and again when they are rewritten; until Ctrl-C.',
      ['watch light.json --media hall=/renders/hall.####.exr --out /out/hall.####.exr'],
    ),
  ).action(watch);

/**
 * `zafiro watch`: finishes frames as soon as their files are whole, while a renderer goes on, and those anew that are written anew; until it is stopped. Needs no
 * database. Frames that cannot be rendered are named, and tried again when their files change.
 */
async function watch(path: string, values: FinishWords): Promise<void> {
  const task = finishTask(path, values);
  const { finish, media, scale, settings, out } = task;
  if (out.still && task.frames?.length !== 1)
    throw new UsageError('--out needs a number such as #### for several frames.');
  refuseOverwriting(task, task.frames ?? framesThere(task).frames);

  const stop = new AbortController();
  const end = () => stop.abort();
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, end);
  const say = (text: string) => process.stdout.write(`${text}\n`);
  const record = recordOf(out);
  const arrivals = frameArrivals(task);
  const pool = renderPool();
  const running = new Set<Promise<void>>();
  const rendering = new Set<number>();

  async function render(due: Due) {
    const { frame } = due;
    const path = pathOf(out, frame);
    try {
      const known = await keyOfStanding((await readRecord(record)).get(frame), path);
      const done = await pool.render(
        { finish, media, frame, scale, out: path, settings, known },
        stop.signal,
      );
      if (!done.kept) await addToRecord(record, done);
      say(`frame ${frame}, ${done.kept ? 'right already' : `${done.millis} ms`}: ${path}`);
      if (done.note) process.stderr.write(`zafiro: frame ${frame}: ${done.note}\n`);
    } catch (error) {
      if (stop.signal.aborted) return;
      // What changes while it is read is read again, and nothing is wrong yet.
      if (!arrivals.isOther(due)) process.stderr.write(`zafiro: ${(error as Error).message}\n`);
    } finally {
      rendering.delete(frame);
    }
  }

  say('Watching. Ctrl-C ends it.');
  try {
    while (!stop.signal.aborted) {
      for (const due of arrivals.due()) {
        // One at a time of each frame, and no more than are worked on.
        if (rendering.has(due.frame) || rendering.size >= 2 * pool.processes) continue;
        arrivals.settle(due);
        rendering.add(due.frame);
        const work = render(due);
        running.add(work);
        work.finally(() => running.delete(work));
      }
      await sleep(tickMillis, undefined, { signal: stop.signal }).catch(() => {});
    }
    await Promise.all(running);
  } finally {
    await arrivals.close();
    await pool.close();
  }
}
