import { readdirSync, readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { mainStrand, parseFinish } from '../core/finish/finish';
import { frameOf, parseFrames, parsePattern, pathOf } from '../core/formats/frame-pattern';
import { extension, type Format, formats } from '../engine/node/encode';
import { fileProblem } from '../engine/node/media-file';
import { renderPool } from '../engine/node/pool';
import { UsageError } from './usage';

const usage =
  'zafiro run FINISH.json --media NAME=PATTERN --frames 1-24 --out PATTERN [--scale 1] [--format exr|png16]';

function readJson(path: string): unknown {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch (error) {
    throw new Error(`${path} ${fileProblem(error)}`);
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Error(`${path} is not JSON: ${(error as Error).message}`);
  }
}

/** Frames that are there under a pattern. */
function framesOnDisk(text: string): number[] {
  const pattern = parsePattern(text);
  if (pattern.still) return [1];
  const folder = dirname(pattern.before.endsWith('/') ? `${pattern.before}x` : pattern.before);
  const prefix = pattern.before.startsWith('./') ? './' : '';
  return readdirSync(folder)
    .map((name) => frameOf(pattern, folder === '.' ? prefix + name : `${folder}/${name}`))
    .filter((f) => f !== undefined)
    .sort((a, b) => a - b);
}

/** `zafiro run`: renders a finish file's frames without a database. */
export async function run(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      media: { type: 'string', multiple: true, default: [] },
      frames: { type: 'string' },
      scale: { type: 'string', default: '1' },
      out: { type: 'string' },
      format: { type: 'string' },
    },
  });
  if (positionals.length !== 1 || !values.out) throw new UsageError(`Use: ${usage}`);
  const scale = Number(values.scale);
  if (!(scale > 0 && scale <= 1)) throw new UsageError('--scale takes a number above 0, up to 1.');
  const format = (values.format ?? (values.out.endsWith('.png') ? 'png16' : 'exr')) as Format;
  if (!(format in formats)) throw new UsageError(`--format takes ${Object.keys(formats).join(' or ')}.`);
  if (!values.out.endsWith(`.${extension[format]}`)) {
    throw new UsageError(`--out ends in .${extension[format]} for the format ${format}.`);
  }
  const media: Record<string, string> = {};
  for (const entry of values.media) {
    const at = entry.indexOf('=');
    if (at < 1) throw new UsageError(`--media takes NAME=PATTERN, not “${entry}”.`);
    media[entry.slice(0, at)] = resolve(entry.slice(at + 1));
  }
  let finish: ReturnType<typeof parseFinish>;
  try {
    finish = parseFinish(readJson(positionals[0]));
  } catch (error) {
    throw new Error(
      error instanceof Error && error.name === 'FinishError'
        ? `${positionals[0]}: ${error.message}`
        : (error as Error).message,
    );
  }
  const source = media[mainStrand(finish).head.media];
  const frames = values.frames ? parseFrames(values.frames) : source ? framesOnDisk(source) : [1];
  if (frames.length === 0) throw new Error(`No frames are there under ${source}. Name them with --frames.`);
  const out = parsePattern(resolve(values.out));
  if (out.still && frames.length > 1)
    throw new UsageError('--out needs a number such as #### for several frames.');

  const pool = renderPool();
  try {
    const jobs = frames.map((frame) =>
      pool.render({ finish, media, frame, scale, out: pathOf(out, frame), format }),
    );
    for (const [i, job] of jobs.entries()) {
      job.catch(() => {});
      const done = await job;
      process.stdout.write(
        `frame ${done.frame} (${i + 1} of ${frames.length}), ${done.millis} ms: ${pathOf(out, done.frame)}\n`,
      );
      if (done.note) process.stderr.write(`zafiro: frame ${done.frame}: ${done.note}\n`);
    }
  } finally {
    await pool.close();
  }
}
