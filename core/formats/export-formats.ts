import * as v from 'valibot';
import { type Written, written } from './exr/compression/chunk';

/** Formats of finished frames, with their labels. */
export const exportFormats = {
  exr: 'EXR — half float, premultiplied, linear',
  exr32: 'EXR — 32-bit float, premultiplied, linear',
  png16: 'PNG — 16 bit, straight alpha, sRGB',
  png8: 'PNG — 8 bit, dithered, straight alpha, sRGB',
  tiff16: 'TIFF — 16 bit, straight alpha, sRGB',
  tiff32: 'TIFF — 32-bit float, premultiplied, linear',
  jpeg: 'JPEG — 8 bit, dithered, over black, sRGB',
} as const;
export type ExportFormat = keyof typeof exportFormats;

export const extensions = {
  exr: 'exr',
  exr32: 'exr',
  png16: 'png',
  png8: 'png',
  tiff16: 'tif',
  tiff32: 'tif',
  jpeg: 'jpg',
} as const satisfies Record<ExportFormat, string>;

/** Compressions of an EXR, with their labels; all but DWA keep every bit. */
export const exrCompressions = {
  zip: 'ZIP, blocks of 16 lines',
  zips: 'ZIP, single lines',
  piz: 'PIZ, wavelets',
  rle: 'Run lengths',
  none: 'None',
  dwaa: 'DWAA, lossy, blocks of 32 lines',
  dwab: 'DWAB, lossy, blocks of 256 lines',
} as const satisfies Record<Written, string>;

/** Formats of EXR, and those whose files can carry the finish that they were made by. */
export const isExr = (format: ExportFormat): boolean => extensions[format] === 'exr';
export const canCarryFinish = (format: ExportFormat): boolean =>
  isExr(format) || extensions[format] === 'png';

/** Channels that are written, with their labels. */
export const exportChannels = {
  rgba: 'Colour and alpha',
  rgb: 'Colour',
  alpha: 'Alpha',
} as const;
export type ExportChannels = keyof typeof exportChannels;

/** How several outputs stand in one EXR, with their labels. */
export const arrangements = {
  layers: 'Layers of one part',
  parts: 'Parts of their own',
} as const;
export type Arrangement = keyof typeof arrangements;

const picklistOf = <K extends string>(of: Record<K, unknown>) => v.picklist(Object.keys(of) as [K, ...K[]]);

/** How finished frames are written. What a format has no use for is left aside. */
export const exportSettings = v.strictObject({
  format: picklistOf(exportFormats),
  /** Of an EXR. */
  compression: v.optional(v.picklist(written), 'zip'),
  /** How coarse DWA is, from 0. */
  level: v.optional(
    v.pipe(
      v.number(),
      v.minValue(0, 'The level is at least 0.'),
      v.maxValue(1000, 'The level is at most 1000.'),
    ),
    45,
  ),
  /** JPEG has no alpha, whatever is chosen. */
  channels: v.optional(picklistOf(exportChannels), 'rgba'),
  /** Named outputs that an EXR holds beside the finished picture. */
  outputs: v.optional(v.array(v.pipe(v.string(), v.minLength(1), v.maxLength(100))), []),
  arrangement: v.optional(picklistOf(arrangements), 'layers'),
  /** Whether the data window of an EXR is cut to what is not empty. */
  trim: v.optional(v.boolean(), false),
  /** Whether attributes of the source (camera, time code, owner …) are carried over to an EXR. */
  carriesAttributes: v.optional(v.boolean(), true),
  /** Of a JPEG, from 1 to 100. */
  quality: v.optional(
    v.pipe(
      v.number(),
      v.integer('The quality is a whole number.'),
      v.minValue(1, 'The quality is at least 1.'),
      v.maxValue(100, 'The quality is at most 100.'),
    ),
    95,
  ),
  /** Whether frames carry the finish that they were made by, where their format can. */
  carriesFinish: v.optional(v.boolean(), true),
});
export type ExportSettings = v.InferOutput<typeof exportSettings>;
export type GivenSettings = v.InferInput<typeof exportSettings>;
