import { closeSync, fstatSync, openSync, readFileSync, readSync, statSync } from 'node:fs';
import type { Encoding } from '../../core/colour/encoding';
import { fullSize } from '../../core/formats/exr/read';
import { type FileCode, FileError } from '../../core/formats/file-error';
import type { FilePart, Lacking, OpenFile } from '../../core/formats/file-info';
import type { PassKind } from '../../core/formats/pass-kinds';
import { strandKindOf } from '../../core/formats/pass-kinds';
import type { PassPlanes } from '../../core/formats/pass-picture';
import type { Pass } from '../../core/formats/passes';
import type { Plane } from '../../core/formats/samples';
import type { PartReader } from './files/exr';
import { openFile } from './files/open';

/** A frame that cannot be had: names the file, the frame and the remedy. */
export class MediaError extends Error {
  override name = 'MediaError';
  constructor(
    message: string,
    readonly code: FileCode = 'unreadable',
  ) {
    super(message);
  }
}

/** The reason why the host cannot open a file, for the user. */
export function fileProblem(error: unknown): string {
  switch ((error as NodeJS.ErrnoException).code) {
    case 'ENOENT':
      return 'is not there. Render it, or choose other frames.';
    case 'EACCES':
    case 'EPERM':
      return 'may not be read or written. Change its permissions.';
    case 'ENOTDIR':
      return 'lies in something that is no folder. Choose another path.';
    case 'EISDIR':
      return 'is a folder. Name a file.';
    case 'ENOSPC':
      return 'does not fit: the disk is full. Free some space and try again.';
    default:
      return `cannot be used: ${(error as Error).message}`;
  }
}

/** The reason why the host cannot write a file, for the user. */
export function outputProblem(error: unknown): string {
  switch ((error as NodeJS.ErrnoException).code) {
    case 'ENOENT':
    case 'ENOTDIR':
    case 'EISDIR':
    case 'EEXIST':
      return 'cannot be written: its folder is not there, or something else stands there. Write to another folder.';
    case 'EROFS':
      return 'cannot be written: its disk is read-only. Mount it writable, or write to another.';
    case 'EACCES':
    case 'EPERM':
      return 'may not be written. Change the permissions of its folder, or write to another.';
    case 'EDQUOT':
      return 'does not fit: your share of the disk is used up. Free some space and try again.';
    default:
      return fileProblem(error);
  }
}

export function codeOf(error: unknown): FileCode {
  switch ((error as NodeJS.ErrnoException).code) {
    case 'ENOENT':
      return 'not-found';
    // A disk that has turned read-only takes as little, and as surely passes: what waits goes on by itself.
    case 'ENOSPC':
    case 'EDQUOT':
    case 'EROFS':
      return 'disk-full';
    default:
      return 'unreadable';
  }
}

/** Bytes of a file, in memory that threads share if `shared`, with an error that names it. `about` is a frame or empty. */
export function readBytes(path: string, about: string, shared = false): Uint8Array {
  try {
    // A pipe or a device would be waited for without end.
    if (!statSync(path).isFile()) throw Object.assign(new Error('not a file'), { code: 'EISDIR' });
    if (!shared) return readFileSync(path);
    const file = openSync(path, 'r');
    try {
      const bytes = new Uint8Array(new SharedArrayBuffer(fstatSync(file).size));
      for (let at = 0; at < bytes.length; ) {
        const count = readSync(file, bytes, at, bytes.length - at, at);
        if (count === 0) break;
        at += count;
      }
      return bytes;
    } finally {
      closeSync(file);
    }
  } catch (error) {
    throw new MediaError(`${about}${path} ${fileProblem(error)}`, codeOf(error));
  }
}

/** Runs `read` and adds the file and frame to what is wrong with its content. */
export async function naming<T>(path: string, about: string, read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    if (error instanceof FileError) throw new MediaError(`${about}${path}: ${error.message}`, error.code);
    throw error;
  }
}

/** Settings of a media by the user, which override those of its files. */
export type Wishes = { encoding?: Encoding; kinds?: Record<string, PassKind> };

const wished = (pass: Pass, { kinds }: Wishes): Pass => ({ ...pass, kind: kinds?.[pass.name] ?? pass.kind });

export const openMediaFile = (
  path: string,
  bytes: Uint8Array,
  about = '',
  reader?: PartReader,
): Promise<OpenFile> => naming(path, about, () => openFile(bytes, reader));

/** A pass of a frame, and the part of the file that it comes from. */
export type PassFrame = PassPlanes & { part: FilePart; lacking?: Lacking };

/**
 * Passes of an open file by their names, one sample a pixel. The channels of all passes of one part are read together, so that each of its
 * chunks is unpacked once. @throws {MediaError} where the file has no pass of such a name.
 */
export async function passesOf(
  file: OpenFile,
  path: string,
  names: readonly string[],
  about = '',
  wishes: Wishes = {},
): Promise<Map<string, PassFrame>> {
  const { passes, parts } = file.info;
  const wanted = names.map((name) => {
    const found = passes.find((p) => p.name === name);
    if (found) return wished(found, wishes);
    const there = passes.map((p) => p.label).join(', ');
    throw new MediaError(`${about}${path} has no pass “${name || 'beauty'}”. It has: ${there}.`);
  });
  const frames = new Map<string, PassFrame>();
  for (const number of new Set(wanted.map((pass) => pass.part))) {
    const here = wanted.filter((pass) => pass.part === number);
    const part = parts[number];
    const channels = [...new Set(here.flatMap((pass) => pass.channels))];
    const { planes, lacking } = await naming(path, about, () => file.read(number, channels));
    for (const pass of here) {
      const full = pass.channels.map((c): Plane => {
        const channel = part.channels.find((o) => o.name === c)!;
        const plane = planes.get(c)!;
        return channel.xSampling === 1 && channel.ySampling === 1
          ? plane
          : fullSize(plane as never, channel as never, part);
      });
      const colour = file.colourOf(pass);
      const isLight = strandKindOf(pass.kind) === 'picture';
      frames.set(pass.name, {
        pass,
        planes: full,
        dataWindow: part.dataWindow,
        displayWindow: part.displayWindow,
        colour: isLight
          ? { ...colour, encoding: wishes.encoding ?? colour.encoding }
          : { encoding: 'linear', straight: false },
        part,
        lacking,
      });
    }
  }
  return frames;
}

/** One of them. */
export const passOf = async (
  file: OpenFile,
  path: string,
  name: string,
  about = '',
  wishes: Wishes = {},
): Promise<PassFrame> => (await passesOf(file, path, [name], about, wishes)).get(name)!;

/** The pass of a file. */
export async function readPass(
  path: string,
  name: string,
  about = '',
  wishes: Wishes = {},
): Promise<PassFrame> {
  const bytes = readBytes(path, about);
  return passOf(await openMediaFile(path, bytes, about), path, name, about, wishes);
}
