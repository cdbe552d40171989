import { statSync } from 'node:fs';
import { Bounded } from '../../core/evaluate/bounded';
import { fileProblem, MediaError, readBytes, readPass } from '../../engine/node/media-file';
import { type Media, mediaPath } from './frames';

type Decoded = ReturnType<typeof readPass>;

/** Passes decoded lately: drafts, the full picture and a second page ask for the same ones. */
const lately = new Bounded<Decoded>(384 * 1024 * 1024);

/** A pass of a media's frame as the file has it now. */
export function decodedPass(media: Media, frame: number, name: string): Decoded {
  const path = mediaPath(media, frame);
  const about = `Frame ${frame}: `;
  let changed: string;
  try {
    const { size, mtimeMs } = statSync(path);
    changed = `${size}:${mtimeMs}`;
  } catch (error) {
    throw new MediaError(`${about}${path} ${fileProblem(error)}`);
  }
  const key = `${path}:${changed}:${name}`;
  const known = lately.get(key);
  if (known) return known;
  const pass = readPass(path, readBytes(path, about), name, about);
  lately.set(
    key,
    pass,
    pass.planes.reduce((sum, p) => sum + p.byteLength, 0),
  );
  return pass;
}
