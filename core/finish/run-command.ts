import { fileWords } from '../formats/file-words';
import type { GapRule } from '../formats/gap-rules';
import type { Finish } from './finish';
import { mediaNames } from './media-names';

/** The command that renders a finish without the interface. */

type Media = { name: string; pattern: string; encoding: string | null; gaps: GapRule };

/** A word of a POSIX shell: in single quotes where it has anything that a shell reads. */
const word = (text: string) =>
  /^[\w./#%:=,@+-]+$/.test(text) && !text.startsWith('#') ? text : `'${text.replaceAll("'", `'\\''`)}'`;

/** A file's name for a finish: letters of any language, digits, dashes. */
export const finishFileName = (name: string): string => `${fileWords(name, '-') || 'finish'}.finish.json`;

/** `zafiro run` for a saved finish: its media as the shot reads them, the frames of the shot, EXR frames beside it. */
export function runCommand(
  finish: Finish,
  { media, first, last }: { media: readonly Media[]; first: number; last: number },
): string {
  const used = new Set(mediaNames(finish));
  const own = media.filter((m) => used.has(m.name));
  const file = finishFileName(finish.name);
  const out = `out/${file.replace(/\.finish\.json$/, '')}.####.exr`;
  return [
    './zafiro run',
    word(file),
    ...own.map((m) => `--media ${word(`${m.name}=${m.pattern}`)}`),
    ...own.flatMap((m) => (m.encoding ? [`--encoding ${word(`${m.name}=${m.encoding}`)}`] : [])),
    ...own.flatMap((m) => (m.gaps === 'missing' ? [] : [`--gaps ${word(`${m.name}=${m.gaps}`)}`])),
    `--frames ${first}-${last}`,
    `--out ${word(out)}`,
  ].join(' ');
}
