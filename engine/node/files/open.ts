import { looksLikeExr } from '../../../core/formats/exr/header';
import { FileError } from '../../../core/formats/file-error';
import type { FileFormat, OpenFile } from '../../../core/formats/file-info';
import { looksLikeHdr } from '../../../core/formats/hdr';
import { defaultLimits, type Limits } from '../../../core/formats/limits';
import { openExr, type PartReader } from './exr';
import { openHdr } from './hdr';
import { openRaster } from './raster';

/** Limits checked before memory is allocated; `ZAFIRO_MOST_PIXELS` changes them. */
export function limitsHere(): Limits {
  const pixels = Number(process.env.ZAFIRO_MOST_PIXELS);
  return pixels > 0 ? { ...defaultLimits, pixels } : defaultLimits;
}

const begins = (bytes: Uint8Array, ...first: number[]) => first.every((b, i) => bytes[i] === b);

/** The format of a file, from its first bytes. Its name is ignored. */
export function formatOf(bytes: Uint8Array): FileFormat | undefined {
  if (looksLikeExr(bytes)) return 'exr';
  if (looksLikeHdr(bytes)) return 'hdr';
  if (begins(bytes, 0x89, 0x50, 0x4e, 0x47)) return 'png';
  if (begins(bytes, 0xff, 0xd8, 0xff)) return 'jpeg';
  if (begins(bytes, 0x49, 0x49, 42, 0) || begins(bytes, 0x4d, 0x4d, 0, 42)) return 'tiff';
  if (begins(bytes, 0x49, 0x49, 43, 0) || begins(bytes, 0x4d, 0x4d, 0, 43)) return 'tiff';
}

/** Reads the header of a file of any format that Zafiro knows. @throws {FileError} */
export async function openFile(bytes: Uint8Array, reader?: PartReader): Promise<OpenFile> {
  if (bytes.length === 0)
    throw new FileError('The file is empty', 0, 'Render or copy it again.', 'truncated');
  const format = formatOf(bytes);
  switch (format) {
    case 'exr':
      return openExr(bytes, limitsHere(), reader);
    case 'hdr':
      return openHdr(bytes, limitsHere());
    case undefined:
      throw new FileError(
        'This is not a picture of a kind that Zafiro reads',
        0,
        'Choose OpenEXR, PNG, TIFF, JPEG or Radiance HDR.',
        'unknown-format',
      );
    default:
      return openRaster(bytes, format, limitsHere());
  }
}
