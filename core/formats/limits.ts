import { FileError } from './file-error';

/** Every bound on what comes from outside, in one place; docs/limits.md says what one sees where it is reached. */
export const limits = {
  /** Frames have numbers from −this to this: what is beyond is no frame's number. */
  frameNumber: 999_999_999,
  /** Frames of a shot, from its first to its last. */
  shotFrames: 100_000,
  /** Frames of one range that is asked for. */
  rangeFrames: 100_000,
  /** Files whose numbers lie further apart are no sequence. */
  sequenceGap: 10_000,
  /** Bytes of a request that is not an upload. */
  requestBytes: 64 * 2 ** 20,
  /** Channels of one part of an EXR file. */
  channels: 4096,
  /** Channels of a picture of the largest size that are unpacked at once; of smaller pictures more. */
  channelsAtOnce: 16,
  /** Scans of a JPEG file, each of which costs a walk over the whole picture. */
  jpegScans: 200,
  /** Pixels of a JPEG file times its scans. */
  jpegScanPixels: 2 ** 31,
  /** Bytes of an SVG text, and points of one of its paths. */
  svgBytes: 4 * 2 ** 20,
  pathPoints: 2000,
} as const;

/** Limits checked before memory is allocated: pixels per side, and in total. */
export type Limits = { side: number; pixels: number };
export const defaultLimits: Limits = { side: 65536, pixels: 2 ** 27 };

/** @throws {FileError} for a size that cannot be or is past the limits, naming them. */
export function checkSize(what: string, width: number, height: number, limits: Limits, at: number) {
  const size = `The ${what} of ${width} by ${height} pixels`;
  if (!(width >= 1 && height >= 1)) throw new FileError(`${size} is invalid`, at);
  if (width <= limits.side && height <= limits.side && width * height <= limits.pixels) return;
  const most = `${limits.side} a side and ${Math.round(limits.pixels / 1e6)} million pixels are allowed`;
  throw new FileError(
    `${size} is past the limit (${most})`,
    at,
    'If the file is sound, raise ZAFIRO_MOST_PIXELS.',
    'too-large',
  );
}
