import * as v from 'valibot';
import { type Written, written } from './exr/compression/chunk';
import { type FileFormat, fileFormats } from './file-formats';

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

const filesOf = {
  exr: 'exr',
  exr32: 'exr',
  png16: 'png',
  png8: 'png',
  tiff16: 'tiff',
  tiff32: 'tiff',
  jpeg: 'jpeg',
} as const satisfies Record<ExportFormat, FileFormat>;

/** The kind of file that a format is written into, and the usual end of its name. */
export const fileFormatOf = (format: ExportFormat): FileFormat => filesOf[format];
export const extensionOf = (format: ExportFormat): string => fileFormats[filesOf[format]].endings[0];

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
export const isExr = (format: ExportFormat): boolean => filesOf[format] === 'exr';
export const canCarryFinish = (format: ExportFormat): boolean => isExr(format) || filesOf[format] === 'png';

/** Channels that are written, with their labels. */
export const exportChannels = {
  rgba: 'Colour and alpha',
  rgb: 'Colour',
  alpha: 'Alpha',
} as const;
export type ExportChannels = keyof typeof exportChannels;

/** How light comes to a screen, for files that are made to be looked at, with labels. */
export const exportScreens = {
  plain: 'As it is',
  reinhard: 'Reinhard',
  hable: 'Hable',
} as const;

/** Files of codes for a screen, for which exposure, a tone curve and a caption may be chosen. */
export const isForScreens = (format: ExportFormat): boolean => !isExr(format) && format !== 'tiff32';

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
  /** How light comes to the screen, for files of codes. */
  view: v.optional(
    v.strictObject({
      stops: v.optional(v.pipe(v.number(), v.minValue(-20), v.maxValue(20)), 0),
      screen: v.optional(picklistOf(exportScreens), 'plain'),
    }),
  ),
  /** Words in the lower left corner of files of codes, with the frame's number after them. */
  caption: v.optional(v.pipe(v.string(), v.maxLength(200, 'A caption has at most 200 letters.'))),
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

/** Codecs of movies, with their labels. */
export const movieCodecs = {
  h264: 'MP4, H.264, for looking at',
  vp9: 'WebM, VP9, for looking at',
  ffv1: 'MKV, FFV1, 16 bit, keeps every code',
} as const;
export type MovieCodec = keyof typeof movieCodecs;
export const movieExtensions = { h264: 'mp4', vp9: 'webm', ffv1: 'mkv' } as const satisfies Record<
  MovieCodec,
  string
>;

/** Heights that a movie may be brought to, with their labels. */
export const movieHeights = {
  0: 'As the frames',
  1080: '1080 lines',
  720: '720 lines',
  540: '540 lines',
} as const;
export const movieQualities = { fine: 'Fine', good: 'Good', small: 'Small' } as const;

/** A movie of the frames of an export. */
export const movieSettings = v.strictObject({
  codec: picklistOf(movieCodecs),
  /** Frames a second. */
  rate: v.pipe(
    v.number(),
    v.minValue(1, 'A movie has at least one frame a second.'),
    v.maxValue(240, 'A movie has at most 240 frames a second.'),
  ),
  height: v.optional(v.picklist([0, 1080, 720, 540]), 0),
  quality: v.optional(picklistOf(movieQualities), 'good'),
});
export type MovieSettings = v.InferOutput<typeof movieSettings>;
/** The format of the frames that a movie is made of. */
export const movieFrames = (codec: MovieCodec): ExportFormat => (codec === 'ffv1' ? 'png16' : 'png8');
export type GivenSettings = v.InferInput<typeof exportSettings>;
