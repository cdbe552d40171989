import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import * as v from 'valibot';
import { encodings } from '../core/colour/encoding';
import { forOutput, leadingPass } from '../core/finish/finish';
import { parseFinish } from '../core/finish/validation';
import {
  type ExportFormat,
  exportFormats,
  exportSettings,
  exrCompressions,
  extensions,
} from '../core/formats/export-formats';
import { parseFrames, parsePattern, pathOf } from '../core/formats/frame-pattern';
import { gapRules } from '../core/formats/gap-rules';
import { framesOnDisk, type MediaSpecs } from '../engine/node/media';
import { fileProblem } from '../engine/node/media-file';
import { renderPool } from '../engine/node/pool';
import { UsageError } from './usage';

const usage =
  'zafiro run FINISH.json --media NAME=PATTERN --frames 1-24 --out PATTERN [--scale 1] [--format exr|exr32|png16|png8|tiff16|tiff32|jpeg] [--encoding NAME=srgb] [--gaps NAME=hold] [--output NAME] [--compression zip|zips|piz|rle|none] [--quality 95] [--without-finish]';

function readJson(path: string): unknown {
  let text: string;
  try {
    // A pipe would be waited for without end.
    if (!statSync(path).isFile()) throw new Error('it is no file. Name a file.');
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

/** `NAME=VALUE` options as a record. */
function named(option: string, entries: string[]): Record<string, string> {
  return Object.fromEntries(
    entries.map((entry) => {
      const at = entry.indexOf('=');
      if (at < 1) throw new UsageError(`--${option} takes NAME=VALUE, not “${entry}”.`);
      return [entry.slice(0, at), entry.slice(at + 1)];
    }),
  );
}

function oneOf<T extends string>(
  option: string,
  value: string | undefined,
  all: Record<T, string>,
): T | undefined {
  if (value === undefined || Object.hasOwn(all, value)) return value as T | undefined;
  throw new UsageError(`--${option} takes ${Object.keys(all).join(', ')}, not “${value}”.`);
}

/** Output that would overwrite a frame it is made of is refused before anything is rendered. */
function refuseOverwriting(media: MediaSpecs, frames: readonly number[], outOf: (frame: number) => string) {
  const identity = (path: string) => {
    try {
      const { dev, ino } = statSync(path);
      return `${dev}:${ino}`;
    } catch {
      return undefined;
    }
  };
  const there = new Set(frames.map((frame) => identity(outOf(frame))).filter((id) => id !== undefined));
  // Sources are many, and mostly nothing stands where the output goes.
  if (there.size === 0) return;
  for (const { pattern: text } of Object.values(media)) {
    const pattern = parsePattern(text);
    for (const frame of framesOnDisk(pattern)) {
      const path = pathOf(pattern, frame);
      const id = identity(path);
      if (id && there.has(id))
        throw new UsageError(
          `--out would overwrite ${path}, which is a source. Write to another folder or another name.`,
        );
    }
  }
}

/** `zafiro run`: renders a finish file's frames without a database. */
export async function run(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      media: { type: 'string', multiple: true, default: [] },
      frames: { type: 'string' },
      scale: { type: 'string', default: '1' },
      out: { type: 'string' },
      format: { type: 'string' },
      encoding: { type: 'string', multiple: true, default: [] },
      gaps: { type: 'string', multiple: true, default: [] },
      output: { type: 'string' },
      'without-finish': { type: 'boolean', default: false },
      compression: { type: 'string' },
      quality: { type: 'string' },
    },
  });
  if (positionals.length !== 1 || !values.out) throw new UsageError(`Use: ${usage}`);
  const scale = Number(values.scale);
  if (!(scale > 0 && scale <= 1)) throw new UsageError('--scale takes a number above 0, up to 1.');
  const ending = values.out.split('.').pop();
  const byEnding = (['png16', 'tiff16', 'jpeg'] as const).find((f) => extensions[f] === ending);
  const format = (values.format ?? byEnding ?? 'exr') as ExportFormat;
  if (!Object.hasOwn(exportFormats, format))
    throw new UsageError(`--format takes ${Object.keys(exportFormats).join(' or ')}.`);
  if (!values.out.endsWith(`.${extensions[format]}`)) {
    throw new UsageError(`--out ends in .${extensions[format]} for the format ${format}.`);
  }
  const settings = v.safeParse(exportSettings, {
    format,
    compression: oneOf('compression', values.compression, exrCompressions),
    quality: values.quality === undefined ? undefined : Number(values.quality),
    carriesFinish: !values['without-finish'],
  });
  if (!settings.success) throw new UsageError(`--quality: ${settings.issues[0].message}`);
  const [encoding, gaps] = [named('encoding', values.encoding), named('gaps', values.gaps)];
  const media: MediaSpecs = {};
  for (const [name, pattern] of Object.entries(named('media', values.media))) {
    media[name] = {
      pattern: resolve(pattern),
      encoding: oneOf('encoding', encoding[name], encodings),
      gaps: oneOf('gaps', gaps[name], gapRules),
    };
  }
  let finish: ReturnType<typeof parseFinish>;
  try {
    finish = parseFinish(readJson(positionals[0]));
    if (values.output) finish = forOutput(finish, values.output);
  } catch (error) {
    throw new Error(
      error instanceof Error && error.name === 'FinishError'
        ? `${positionals[0]}: ${error.message}`
        : (error as Error).message,
    );
  }
  const source = media[leadingPass(finish)?.media ?? ''];
  const there = source ? framesOnDisk(parsePattern(source.pattern)) : [1];
  const frames = values.frames ? parseFrames(values.frames) : there;
  if (frames.length === 0)
    throw new Error(`No frames are there under ${source.pattern}. Name them with --frames.`);
  const out = parsePattern(resolve(values.out));
  if (out.still && frames.length > 1)
    throw new UsageError('--out needs a number such as #### for several frames.');

  refuseOverwriting(media, frames, (frame) => pathOf(out, frame));

  const pool = renderPool();
  try {
    const jobs = frames.map((frame) =>
      pool.render({ finish, media, frame, scale, out: pathOf(out, frame), settings: settings.output }),
    );
    // The first that fails ends the run; others that do are not asked any more.
    for (const job of jobs) job.catch(() => {});
    for (const [i, job] of jobs.entries()) {
      const done = await job;
      process.stdout.write(
        `frame ${done.frame} (${i + 1} of ${frames.length}), ${done.millis} ms: ${pathOf(out, done.frame)}\n`,
      );
      if (done.note) process.stderr.write(`zafiro: frame ${done.frame}: ${done.note}\n`);
    }
  } finally {
    await pool.close();
  }
  return 0;
}
