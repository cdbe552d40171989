import { unzlibSync } from 'fflate';
import * as v from 'valibot';
import { looksLikeExr, readParts } from '../formats/exr/header';
import { looksLikePng, pngText } from '../formats/png-text';
import { whole } from './basic-schema';
import { type Finish, FinishError } from './finish';
import { openFinish } from './validation';

/** What a finished frame knows of how it was made: it stands in an attribute of an EXR, and in a text of a PNG, as JSON. */

/** The name of the attribute, and the keyword of the text. */
export const originKey = 'zafiro';

const schema = v.object({
  format: v.literal('zafiro-frame'),
  /** The version of the program that wrote it. */
  zafiro: v.string(),
  frame: whole,
  /** The names of the media, and those of their files without folders. */
  media: v.record(v.string(), v.string()),
  finish: v.unknown(),
});

export type FrameOrigin = Omit<v.InferOutput<typeof schema>, 'finish'> & { finish: Finish };

const fileName = (pattern: string) => pattern.split(/[\\/]/).at(-1) ?? pattern;

/** The words that a frame carries. Folders of the machine stay out of it. */
export const originText = (
  finish: Finish,
  media: Readonly<Record<string, { pattern: string }>>,
  frame: number,
  version: string,
): string =>
  JSON.stringify({
    format: 'zafiro-frame',
    zafiro: version,
    frame,
    media: Object.fromEntries(Object.entries(media).map(([name, { pattern }]) => [name, fileName(pattern)])),
    finish,
  });

/** @throws {FinishError} where the words are none, or of a newer program. */
export function originFrom(text: string): FrameOrigin {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    json = undefined;
  }
  const found = v.safeParse(schema, json);
  if (!found.success)
    throw new FinishError(
      'The finish in this frame is damaged',
      'zafiro',
      'Use another frame of the export.',
    );
  return { ...found.output, finish: openFinish(found.output.finish).finish };
}

/** The words in a file, given its beginning, which holds them whole; undefined where there are none. @throws {Error} where the file is damaged. */
export function originTextIn(bytes: Uint8Array): string | undefined {
  if (looksLikeExr(bytes)) {
    const found = readParts(bytes)[0]?.attributes[originKey];
    return found?.type === 'string' ? found.value : undefined;
  }
  return looksLikePng(bytes) ? pngText(bytes, originKey, unzlibSync) : undefined;
}
