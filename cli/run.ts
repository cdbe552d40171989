import type { Command } from 'commander';
import { pathOf } from '../core/formats/frame-pattern';
import { declared, UsageError } from '../engine/node/command-line';
import { addToRecord, keyOfStanding, readRecord, recordOf } from '../engine/node/frame-record';
import { renderPool } from '../engine/node/pool';
import {
  addFinishOptions,
  type FinishWords,
  finishTask,
  framesThere,
  refuseOverwriting,
} from './finish-options';

type Words = FinishWords & { check: boolean; all: boolean };

/** `zafiro run`. */
export const declareRun = (program: Command): void =>
  void addFinishOptions(
    declared(
      program,
      'run',
      'Renders the frames of a finish, without a database. Frames that are right by the record beside them stay.',
      [
        'run light.json --media hall=/renders/hall.####.exr --frames 1-24 --out /out/hall.####.exr',
        'run /out/hall.0001.exr --media hall=/renders/hall_v2.####.exr --out /out/v2.####.png --format png16',
      ],
    ),
  )
    .option('--check', 'compare every byte of the frames that are there', false)
    .option('--all', 'render all of them again', false)
    .action(run);

async function run(path: string, values: Words): Promise<void> {
  const task = finishTask(path, values);
  const { finish, media, scale, settings, out } = task;
  const there = task.frames ? undefined : framesThere(task);
  const frames = task.frames ?? there!.frames;
  if (frames.length === 0)
    throw new Error(`No frames are there under ${there?.pattern}. Name them with --frames.`);
  if (out.still && frames.length > 1)
    throw new UsageError('--out needs a number such as #### for several frames.');
  refuseOverwriting(task, frames);

  const record = recordOf(out);
  const known = values.all ? new Map() : await readRecord(record);
  const pool = renderPool();
  try {
    const jobs = frames.map(async (frame) => {
      const path = pathOf(out, frame);
      const standing = await keyOfStanding(known.get(frame), path, values.check);
      const done = await pool.render({ finish, media, frame, scale, out: path, settings, known: standing });
      if (!done.kept) await addToRecord(record, done);
      return done;
    });
    // The first that fails ends the run; others that do are not asked any more.
    for (const job of jobs) job.catch(() => {});
    for (const [i, job] of jobs.entries()) {
      const done = await job;
      process.stdout.write(
        `frame ${done.frame} (${i + 1} of ${frames.length}), ${done.kept ? 'right already' : `${done.millis} ms`}: ${pathOf(out, done.frame)}\n`,
      );
      if (done.note) process.stderr.write(`zafiro: frame ${done.frame}: ${done.note}\n`);
    }
  } finally {
    await pool.close();
  }
}
