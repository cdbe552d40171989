import { FileError } from './file-error';

/** What is refused before memory is taken for it: pixels along a side, and in all. */
export type Limits = { side: number; pixels: number };
export const defaultLimits: Limits = { side: 65536, pixels: 2 ** 27 };

/** @throws {FileError} for a size that cannot be or is past the limits, naming them. */
export function checkSize(what: string, width: number, height: number, limits: Limits, at: number) {
  const says = `The ${what} of ${width} by ${height} pixels`;
  if (!(width >= 1 && height >= 1)) throw new FileError(`${says} makes no sense`, at);
  if (width <= limits.side && height <= limits.side && width * height <= limits.pixels) return;
  const most = `${limits.side} a side and ${Math.round(limits.pixels / 1e6)} million pixels are allowed`;
  throw new FileError(
    `${says} is past the limit (${most})`,
    at,
    'If the file is sound, raise ZAFIRO_MOST_PIXELS.',
    'too-large',
  );
}
