import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import * as v from 'valibot';
import { dithered } from '../../core/colour/dither';
import { encodeSrgb } from '../../core/colour/srgb';
import { originKey } from '../../core/finish/frame-origin';
import {
  type ExportChannels,
  type ExportSettings,
  exportSettings,
  type GivenSettings,
} from '../../core/formats/export-formats';
import { isLossy } from '../../core/formats/exr/compression/chunk';
import type { Attributes, Box } from '../../core/formats/exr/types';
import { type ChannelToWrite, type ExrToWrite, writeExr, writeExrParts } from '../../core/formats/exr/write';
import type { FilePart } from '../../core/formats/file-info';
import { withPngText } from '../../core/formats/png-text';
import { writeTiff } from '../../core/formats/tiff';
import { halvesOf } from '../../core/kernels/halves';
import type { Runtime } from '../../core/kernels/runtime';
import type { Kind } from '../../core/picture/kind';
import type { Picture as Whole } from '../../core/picture/picture';
import { threadRuntime } from './runtime';
import { nodeZlib } from './zlib';

/** An encoded frame, and what the user should know about it. */
export type Encoded = { bytes: Uint8Array; note?: string };

/** The pixels of a finished frame; encoders need no more of it. */
type Picture = Pick<Whole, 'width' | 'height' | 'data'>;

/** Attributes that describe the source file, or its colours before conversion, and are not valid for the finished frame. */
const ofTheFile =
  /^(zafiro$|cryptomatte\/|(type|name|version|chunkCount|tiles|view|multiView|preview|chromaticities|dwaCompressionLevel|screenWindow(Center|Width))$)/;

/** Attributes of the source that still hold for the finished frame, if they are wanted, and the words on how it was made. */
function carried(source: FilePart | undefined, all: boolean, origin: string | undefined): Attributes {
  const kept = Object.entries(source?.attributes ?? {}).filter(([name]) => all && !ofTheFile.test(name));
  return {
    ...Object.fromEntries(kept),
    software: { type: 'string', value: 'Zafiro' },
    ...(origin === undefined ? {} : { [originKey]: { type: 'string', value: origin } }),
  };
}

/** A channel of a picture, or the one of a matte. */
function channelOf({ width, height, data }: Picture, c: number): Float32Array {
  const count = width * height;
  const step = data.length / count;
  const plane = new Float32Array(count);
  for (let i = 0, p = c; i < count; i++, p += step) plane[i] = data[p];
  return plane;
}

/** What another output adds to a file. */
export type Layer = { name: string; kind: Kind; picture: Picture };

const picked = { rgba: [0, 1, 2, 3], rgb: [0, 1, 2], alpha: [3] } as const;

/** Channels of a picture, in half or float. Data and mattes are always floats, under names that no lossy compression takes for colour. */
function channelsOf(
  { kind, picture }: Pick<Layer, 'kind' | 'picture'>,
  type: 'half' | 'float',
  chosen: ExportChannels,
  runtime: Runtime,
): { channels: ChannelToWrite[]; held: number } {
  if (kind !== 'picture') {
    const names = kind === 'matte' ? ['Y'] : ['X', 'Y', 'Z'];
    return {
      channels: names.map((name, c) => ({ name, type: 'float', samples: channelOf(picture, c) })),
      held: 0,
    };
  }
  const { planes, held } =
    type === 'half'
      ? halvesOf(runtime, picture)
      : { planes: [0, 1, 2, 3].map((c) => channelOf(picture, c)), held: 0 };
  return { channels: picked[chosen].map((c) => ({ name: 'RGBA'[c], type, samples: planes[c] })), held };
}

/** The smallest box outside of which all channels are 0; a pixel where all of them are. */
function contentBox(channels: readonly ChannelToWrite[], width: number, height: number): Box {
  const box = { xMin: width, yMin: height, xMax: -1, yMax: -1 };
  for (const { samples, type } of channels) {
    // The sign of a zero is no content.
    const isEmpty = (v: number) => (type === 'half' ? (v & 0x7fff) === 0 : v === 0);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (isEmpty(samples[i])) continue;
        if (x < box.xMin) box.xMin = x;
        if (x > box.xMax) box.xMax = x;
        if (y < box.yMin) box.yMin = y;
        box.yMax = y;
      }
  }
  return box.xMax < 0 ? { xMin: 0, yMin: 0, xMax: 0, yMax: 0 } : box;
}

const cutTo = (channels: readonly ChannelToWrite[], width: number, { xMin, xMax, yMin, yMax }: Box) =>
  channels.map((c) => {
    const wide = xMax - xMin + 1;
    const samples = new (c.samples.constructor as Float32ArrayConstructor)(wide * (yMax - yMin + 1));
    for (let y = yMin; y <= yMax; y++)
      samples.set(
        c.samples.subarray(y * width + xMin, y * width + xMin + wide) as Float32Array,
        (y - yMin) * wide,
      );
    return { ...c, samples };
  });

/**
 * EXR: chosen channels as half or as float of 32 bits, premultiplied, scene-linear; other outputs as layers or parts. At full size its display window is
 * that of the source, and its data window the same or what of it is not empty.
 */
function encodeExr(
  picture: Picture,
  { format, compression, level, channels: chosen, arrangement, trim, carriesAttributes }: ExportSettings,
  layers: readonly Layer[],
  source: FilePart | undefined,
  runtime: Runtime,
  origin: string | undefined,
): Encoded {
  const { width, height } = picture;
  const type = format === 'exr' ? 'half' : 'float';
  const { screenWindowCenter: centre, screenWindowWidth: wide } = source?.attributes ?? {};
  const display = source?.displayWindow;
  const same =
    display && display.xMax - display.xMin + 1 === width && display.yMax - display.yMin + 1 === height;
  const displayWindow: Box = same ? display : { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  let held = 0;
  const written = [{ name: '', kind: 'picture' as Kind, picture }, ...layers].map((layer) => {
    if (layer.picture.width !== width || layer.picture.height !== height)
      throw new RangeError(
        `The output “${layer.name}” has ${layer.picture.width} by ${layer.picture.height} pixels in place of ${width} by ${height}. Export it by itself.`,
      );
    const made = channelsOf(layer, type, chosen, runtime);
    held += made.held;
    return { ...layer, channels: made.channels };
  });
  const { xMin, yMin } = displayWindow;
  const part = (channels: ChannelToWrite[], isData: boolean): ExrToWrite => {
    const box = trim ? contentBox(channels, width, height) : undefined;
    return {
      channels: box ? cutTo(channels, width, box) : channels,
      // Data keep every bit.
      compression: isData && isLossy(compression) ? 'zip' : compression,
      level,
      displayWindow,
      dataWindow: box
        ? { xMin: box.xMin + xMin, xMax: box.xMax + xMin, yMin: box.yMin + yMin, yMax: box.yMax + yMin }
        : displayWindow,
      pixelAspectRatio: source?.pixelAspectRatio,
      screenWindowCenter: centre?.type === 'v2f' ? [centre.value[0], centre.value[1]] : undefined,
      screenWindowWidth: wide?.type === 'float' ? wide.value : undefined,
      attributes: carried(source, carriesAttributes, origin),
    };
  };
  const inLayers = () =>
    writeExr(
      part(
        written.flatMap(({ name, channels }) =>
          channels.map((c) => ({ ...c, name: name ? `${name}.${c.name}` : c.name })),
        ),
        false,
      ),
      nodeZlib,
    );
  const inParts = () =>
    writeExrParts(
      written.map(({ name, kind, channels }) => ({
        ...part(channels, kind !== 'picture'),
        name: name || 'finished',
      })),
      nodeZlib,
    );
  return {
    bytes: layers.length > 0 && arrangement === 'parts' ? inParts() : inLayers(),
    note: held ? `${held} values past 65504 were held there, the most a half can say.` : undefined,
  };
}

/** Code of 16 bits; what is not finite or below 0 is 0. */
const code = (v: number) => (v >= 1 ? 65535 : v > 0 ? Math.round(v * 65535) : 0);

const lostNote = (lost: number, name: string) =>
  lost ? `${lost} pixels have light but no alpha, which ${name} cannot hold. EXR can.` : undefined;

/**
 * Straight alpha, sRGB (IEC 61966-2-1), as codes of `codeOf` of a value from 0 to 1 at a pixel. Light without coverage (alpha 0) cannot be kept: `lost`
 * counts such pixels, where it would have been seen.
 */
function straight<Codes extends Uint16Array | Uint8Array>(
  { width, data }: Picture,
  codes: Codes,
  codeOf: (value: number, x: number, y: number) => number,
): { codes: Codes; lost: number } {
  let lost = 0;
  for (let p = 0; p < data.length; p += 4) {
    const a = data[p + 3];
    if (!(a > 0)) {
      // Light that a file of 16 bits would not show is not missed.
      if (code(Math.max(data[p], data[p + 1], data[p + 2])) > 0) lost++;
      continue;
    }
    const [x, y] = [(p >> 2) % width, Math.floor((p >> 2) / width)];
    for (let c = 0; c < 3; c++) codes[p + c] = codeOf(encodeSrgb(data[p + c] / a), x, y);
    codes[p + 3] = codeOf(a, x, y);
  }
  return { codes, lost };
}

/** Codes of chosen channels, for files that know colour with alpha, colour alone, or one channel. */
function chosenOf<Codes extends Uint16Array | Uint8Array>(codes: Codes, chosen: ExportChannels): Codes {
  const which = picked[chosen];
  if (which.length === 4) return codes;
  const out = new (codes.constructor as new (length: number) => Codes)((codes.length / 4) * which.length);
  for (let p = 0, o = 0; p < codes.length; p += 4) for (const c of which) out[o++] = codes[p + c];
  return out;
}

/** A picture as it is written without its alpha: over black. */
function overBlack(picture: Picture, chosen: ExportChannels): Picture {
  if (chosen !== 'rgb') return picture;
  const data = picture.data.slice();
  for (let p = 3; p < data.length; p += 4) data[p] = 1;
  return { ...picture, data };
}

/** PNG, straight alpha, sRGB: of 16 bits, or of 8 with an ordered dither, so that dark slopes do not band. Colour alone lies over black. */
async function encodePng(
  given: Picture,
  bits: 8 | 16,
  chosen: ExportChannels,
  origin: string | undefined,
): Promise<Encoded> {
  const picture = overBlack(given, chosen);
  const { width, height, data } = picture;
  const { codes, lost } =
    bits === 16
      ? straight(picture, new Uint16Array(data.length), code)
      : straight(picture, new Uint8Array(data.length), dithered);
  const channels = picked[chosen].length as 1 | 3 | 4;
  const bytes = await sharp(chosenOf(codes, chosen), { raw: { width, height, channels } })
    .toColourspace(channels === 1 ? (bits === 16 ? 'grey16' : 'b-w') : bits === 16 ? 'rgb16' : 'srgb')
    .png({ compressionLevel: 6 })
    .toBuffer();
  const whole =
    origin === undefined ? bytes : withPngText(bytes, originKey, origin, (data) => deflateSync(data));
  return { bytes: whole, note: chosen === 'alpha' ? undefined : lostNote(lost, 'PNG') };
}

/** JPEG: 8 bits with an ordered dither, sRGB, over black, colour as fine as luminance. */
async function encodeJpeg({ width, height, data }: Picture, quality: number): Promise<Encoded> {
  const codes = new Uint8Array((data.length / 4) * 3);
  let covered = true;
  for (let p = 0, o = 0; p < data.length; p += 4, o += 3) {
    const [x, y] = [(p >> 2) % width, Math.floor((p >> 2) / width)];
    for (let c = 0; c < 3; c++) codes[o + c] = dithered(encodeSrgb(Math.max(0, data[p + c])), x, y);
    covered &&= data[p + 3] >= 1;
  }
  const bytes = await sharp(codes, { raw: { width, height, channels: 3 } })
    .jpeg({ quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
  return { bytes, note: covered ? undefined : 'JPEG has no alpha: the picture lies over black.' };
}

/** TIFF: 16 bits, straight, sRGB; or floats as they are, premultiplied and linear, as Zafiro reads them. */
function encodeTiff(
  { width, height, data }: Picture,
  type: 'uint16' | 'float',
  chosen: ExportChannels,
): Encoded {
  const channels = picked[chosen].length as 1 | 3 | 4;
  const file = { width, height, channels, software: 'Zafiro' };
  if (type === 'float') {
    const samples = new Float32Array(width * height * channels);
    for (let p = 0, o = 0; p < data.length; p += 4)
      for (const c of picked[chosen]) samples[o++] = data[p + c];
    return { bytes: writeTiff({ ...file, samples, premultiplied: true }, nodeZlib) };
  }
  const { codes, lost } = straight({ width, height, data }, new Uint16Array(data.length), code);
  return {
    bytes: writeTiff({ ...file, samples: chosenOf(codes, chosen), premultiplied: false }, nodeZlib),
    note: chosen === 'alpha' ? undefined : lostNote(lost, 'a TIFF of 16 bits'),
  };
}

/**
 * A finished frame in a format; `source` is the file that it begins at, whose attributes an EXR keeps. `origin` are the words on how it was made, which EXR
 * and PNG carry; `layers` are other outputs, for an EXR.
 */
export async function encode(
  picture: Picture,
  given: GivenSettings,
  source?: FilePart,
  runtime: Runtime = threadRuntime(),
  origin?: string,
  layers: readonly Layer[] = [],
): Promise<Encoded> {
  const settings: ExportSettings = v.parse(exportSettings, given);
  const { format, quality, channels } = settings;
  switch (format) {
    case 'exr':
    case 'exr32':
      return encodeExr(picture, settings, layers, source, runtime, origin);
    case 'png16':
      return encodePng(picture, 16, channels, origin);
    case 'png8':
      return encodePng(picture, 8, channels, origin);
    case 'tiff16':
      return encodeTiff(overBlack(picture, channels), 'uint16', channels);
    case 'tiff32':
      return encodeTiff(picture, 'float', channels);
    case 'jpeg':
      return encodeJpeg(picture, quality);
  }
}
