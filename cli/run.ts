import { parseArgs } from 'node:util';
import { pathOf } from '../core/formats/frame-pattern';
import { addToRecord, keyOfStanding, readRecord, recordOf } from '../engine/node/frame-record';
import { renderPool } from '../engine/node/pool';
import { finishOptions, finishTask, finishUsage, framesThere, refuseOverwriting } from './finish-options';
import { UsageError } from './usage';

const usage = `zafiro run ${finishUsage} [--check | --all]`;

/**
 * `zafiro run`: renders a finish file's frames without a database. Frames that are right by the record beside them stay as they are; `--check` compares
 * every byte of them, `--all` renders them again.
 */
export async function run(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      ...finishOptions,
      check: { type: 'boolean', default: false },
      all: { type: 'boolean', default: false },
    },
  });
  const task = finishTask(values, positionals, usage);
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
  return 0;
}
