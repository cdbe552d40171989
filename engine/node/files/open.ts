import { FileError } from '../../../core/formats/file-error';
import { fileFormats, formatByBytes } from '../../../core/formats/file-formats';
import type { OpenFile } from '../../../core/formats/file-info';
import { defaultLimits, type Limits } from '../../../core/formats/limits';
import { openExr, type PartReader } from './exr';
import { openHdr } from './hdr';
import { openRaster } from './raster';

/** Limits checked before memory is allocated; `ZAFIRO_MOST_PIXELS` changes them. */
export function limitsHere(): Limits {
  const pixels = Number(process.env.ZAFIRO_MOST_PIXELS);
  return pixels > 0 ? { ...defaultLimits, pixels } : defaultLimits;
}

const anyOf = (names: readonly string[]) => `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`;

/** Reads the header of a file of any format that Zafiro knows, by its first bytes: its name is ignored. @throws {FileError} */
export async function openFile(bytes: Uint8Array, reader?: PartReader): Promise<OpenFile> {
  if (bytes.length === 0)
    throw new FileError('The file is empty', 0, 'Render or copy it again.', 'truncated');
  const format = formatByBytes(bytes);
  switch (format) {
    case 'exr':
      return openExr(bytes, limitsHere(), reader);
    case 'hdr':
      return openHdr(bytes, limitsHere());
    case undefined:
      throw new FileError(
        'This is not a picture of a kind that Zafiro reads',
        0,
        `Choose ${anyOf(Object.values(fileFormats).map((f) => f.name))}.`,
        'unknown-format',
      );
    default:
      return openRaster(bytes, format, limitsHere());
  }
}
