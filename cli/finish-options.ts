import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Command } from 'commander';
import * as v from 'valibot';
import { encodings } from '../core/colour/encoding';
import { type Finish, forOutput, leadingPass } from '../core/finish/finish';
import { originFrom, originTextIn } from '../core/finish/frame-origin';
import { parseFinish } from '../core/finish/validation';
import {
  type ExportFormat,
  type ExportSettings,
  exportChannels,
  exportFormats,
  exportSettings,
  exrCompressions,
  extensionOf,
  fileFormatOf,
} from '../core/formats/export-formats';
import { looksLikeExr } from '../core/formats/exr/header';
import { formatByName } from '../core/formats/file-formats';
import { type FramePattern, parseFrames, parsePattern, pathOf } from '../core/formats/frame-pattern';
import { gapRules } from '../core/formats/gap-rules';
import { looksLikePng } from '../core/formats/png-text';
import { repeated, UsageError } from '../engine/node/command-line';
import { framesOnDisk, type MediaSpecs } from '../engine/node/media';
import { fileProblem } from '../engine/node/media-file';

/** What `run` and `watch` are told: a finish, its media, and how frames are written where. */

export function addFinishOptions(command: Command): Command {
  const oneOfThese = (all: object) => Object.keys(all).join(', ');
  return command
    .argument('<FINISH>', 'a finish file, or a frame that Zafiro has exported, which carries its finish')
    .addOption(
      repeated('--media <NAME=PATTERN>', 'where the frames of a media are; #### stands for the number'),
    )
    .requiredOption('--out <PATTERN>', 'where frames are written; the ending says the format')
    .option('--frames <LIST>', 'such as 1-24 or 1-10,15; all that are there without it')
    .option('--scale <NUMBER>', 'size of the frames, up to 1', '1')
    .option('--format <FORMAT>', `one of ${oneOfThese(exportFormats)}`)
    .addOption(repeated('--encoding <NAME=ENCODING>', `how a media is read: ${oneOfThese(encodings)}`))
    .addOption(repeated('--gaps <NAME=RULE>', `what stands for missing frames: ${oneOfThese(gapRules)}`))
    .option('--output <NAME>', 'a named output in place of the finished picture')
    .addOption(repeated('--with <OUTPUT>', 'another output of the finish, as layers of an EXR'))
    .option('--parts', 'those as parts of the file', false)
    .option('--channels <CHANNELS>', `one of ${oneOfThese(exportChannels)}`)
    .option('--trim', 'cut the data window to what is not empty', false)
    .option('--compression <NAME>', `of EXR: ${oneOfThese(exrCompressions)}`)
    .option('--level <NUMBER>', 'how coarse dwaa and dwab are; 45 is usual')
    .option('--quality <NUMBER>', 'of JPEG, 1 to 100')
    .option('--without-finish', 'do not write the finish into each frame', false)
    .option('--without-attributes', 'do not keep the attributes of the render', false);
}

export type FinishWords = {
  media: string[];
  frames?: string;
  scale: string;
  out: string;
  format?: string;
  encoding: string[];
  gaps: string[];
  output?: string;
  with: string[];
  parts: boolean;
  channels?: string;
  trim: boolean;
  compression?: string;
  level?: string;
  quality?: string;
  withoutFinish: boolean;
  withoutAttributes: boolean;
};

export type FinishTask = {
  finish: Finish;
  media: MediaSpecs;
  scale: number;
  settings: ExportSettings;
  out: FramePattern;
  /** Where none are named, undefined. */
  frames?: number[];
};

/** What a file of a finish says: JSON, or the finish that a frame carries which Zafiro has written. */
function readFinish(path: string): Finish {
  let bytes: Buffer;
  try {
    // A pipe would be waited for without end.
    if (!statSync(path).isFile()) throw new Error('it is no file. Name a file.');
    bytes = readFileSync(path);
  } catch (error) {
    throw new Error(`${path} ${fileProblem(error)}`);
  }
  if (looksLikeExr(bytes) || looksLikePng(bytes)) {
    const text = originTextIn(bytes);
    if (text === undefined)
      throw new Error(`${path} carries no finish. Name a finish file, or a frame that Zafiro has exported.`);
    return originFrom(text).finish;
  }
  let json: unknown;
  try {
    json = JSON.parse(bytes.toString('utf8'));
  } catch (error) {
    throw new Error(`${path} is not JSON: ${(error as Error).message}`);
  }
  // What stands in a frame may have been taken out of it.
  const isOrigin = (json as { format?: unknown } | null)?.format === 'zafiro-frame';
  return isOrigin ? originFrom(JSON.stringify(json)).finish : parseFinish(json);
}

/** `NAME=VALUE` options as a record. */
export function named(option: string, entries: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    entries.map((entry) => {
      const at = entry.indexOf('=');
      if (at < 1) throw new UsageError(`--${option} takes NAME=VALUE, not “${entry}”.`);
      const name = entry.slice(0, at);
      if (name in Object.prototype)
        throw new UsageError(`--${option}: ${name} cannot be a name. Choose another.`);
      return [name, entry.slice(at + 1)];
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

function finishIn(path: string, output: string | undefined): Finish {
  try {
    const finish = readFinish(path);
    return output ? forOutput(finish, output) : finish;
  } catch (error) {
    throw new Error(
      error instanceof Error && error.name === 'FinishError'
        ? `${path}: ${error.message}`
        : (error as Error).message,
    );
  }
}

/** @throws {UsageError} */
function framesNamed(text: string): number[] {
  if (text.trim() === '') throw new UsageError('--frames takes numbers such as 1-24, not nothing.');
  return parseFrames(text);
}

/** @throws {UsageError} for wrong words; {Error} for a finish that cannot be used. */
export function finishTask(path: string, values: FinishWords): FinishTask {
  const scale = Number(values.scale);
  if (!(scale > 0 && scale <= 1)) throw new UsageError('--scale takes a number above 0, up to 1.');
  const byEnding = (['png16', 'tiff16', 'jpeg'] as const).find(
    (f) => fileFormatOf(f) === formatByName(values.out),
  );
  const format = (values.format ?? byEnding ?? 'exr') as ExportFormat;
  if (!Object.hasOwn(exportFormats, format))
    throw new UsageError(`--format takes ${Object.keys(exportFormats).join(' or ')}.`);
  if (formatByName(values.out) !== fileFormatOf(format)) {
    throw new UsageError(`--out ends in .${extensionOf(format)} for the format ${format}.`);
  }
  const settings = v.safeParse(exportSettings, {
    format,
    compression: oneOf('compression', values.compression, exrCompressions),
    level: values.level === undefined ? undefined : Number(values.level),
    quality: values.quality === undefined ? undefined : Number(values.quality),
    channels: oneOf('channels', values.channels, exportChannels),
    outputs: values.with,
    arrangement: values.parts ? 'parts' : 'layers',
    trim: values.trim,
    carriesAttributes: !values.withoutAttributes,
    carriesFinish: !values.withoutFinish,
  });
  if (!settings.success)
    throw new UsageError(`--${v.getDotPath(settings.issues[0])}: ${settings.issues[0].message}`);
  const [encoding, gaps] = [named('encoding', values.encoding), named('gaps', values.gaps)];
  const pictures = named('media', values.media);
  for (const [option, given] of Object.entries({ encoding, gaps }))
    for (const name of Object.keys(given))
      if (!Object.hasOwn(pictures, name))
        throw new UsageError(`--${option} names the media ${name}, which no --media does.`);
  const media: MediaSpecs = {};
  for (const [name, pattern] of Object.entries(pictures)) {
    media[name] = {
      pattern: resolve(pattern),
      encoding: oneOf('encoding', encoding[name], encodings),
      gaps: oneOf('gaps', gaps[name], gapRules),
    };
  }
  const finish = finishIn(path, values.output);
  for (const output of values.with) forOutput(finish, output);
  return {
    finish,
    media,
    scale,
    settings: settings.output,
    out: parsePattern(resolve(values.out)),
    frames: values.frames === undefined ? undefined : framesNamed(values.frames),
  };
}

/** Frames that are there of the media that the finish begins at, and its pattern. */
export function framesThere({ finish, media }: Pick<FinishTask, 'finish' | 'media'>): {
  frames: number[];
  pattern?: string;
} {
  const source = media[leadingPass(finish)?.media ?? ''];
  return source
    ? { frames: framesOnDisk(parsePattern(source.pattern)), pattern: source.pattern }
    : { frames: [1] };
}

/** Output that would overwrite a frame it is made of is refused before anything is rendered. @throws {UsageError} */
export function refuseOverwriting({ media, out }: FinishTask, frames: readonly number[]): void {
  const identity = (path: string) => {
    try {
      const { dev, ino } = statSync(path);
      return `${dev}:${ino}`;
    } catch {
      return undefined;
    }
  };
  const there = new Set(frames.map((frame) => identity(pathOf(out, frame))).filter((id) => id !== undefined));
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
