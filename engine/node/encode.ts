import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import * as v from 'valibot';
import { dithered } from '../../core/colour/dither';
import { encodeSrgb } from '../../core/colour/srgb';
import { originKey } from '../../core/finish/frame-origin';
import { type ExportSettings, exportSettings, type GivenSettings } from '../../core/formats/export-formats';
import type { Written } from '../../core/formats/exr/compression/chunk';
import type { Attributes, Box } from '../../core/formats/exr/types';
import { writeExr } from '../../core/formats/exr/write';
import type { FilePart } from '../../core/formats/file-info';
import { withPngText } from '../../core/formats/png-text';
import { writeTiff } from '../../core/formats/tiff';
import { halvesOf } from '../../core/kernels/halves';
import type { Runtime } from '../../core/kernels/runtime';
import type { Picture as Whole } from '../../core/picture/picture';
import { threadRuntime } from './runtime';
import { nodeZlib } from './zlib';

/** An encoded frame, and what the user should know about it. */
export type Encoded = { bytes: Uint8Array; note?: string };

/** The pixels of a finished frame; encoders need no more of it. */
type Picture = Pick<Whole, 'width' | 'height' | 'data'>;

/** Attributes that describe the source file, or its colours before conversion, and are not valid for the finished frame. */
const ofTheFile =
  /^(zafiro$|cryptomatte\/|(type|name|version|chunkCount|tiles|view|multiView|preview|chromaticities|screenWindow(Center|Width))$)/;

/** Attributes of the source that still hold for the finished frame, and the words on how it was made. */
function carried(source: FilePart | undefined, origin: string | undefined): Attributes {
  const kept = Object.entries(source?.attributes ?? {}).filter(([name]) => !ofTheFile.test(name));
  return {
    ...Object.fromEntries(kept),
    software: { type: 'string', value: 'Zafiro' },
    ...(origin === undefined ? {} : { [originKey]: { type: 'string', value: origin } }),
  };
}

/** A channel of a picture. */
function channelOf({ data }: Picture, c: number): Float32Array {
  const plane = new Float32Array(data.length / 4);
  for (let i = 0, p = c; i < plane.length; i++, p += 4) plane[i] = data[p];
  return plane;
}

/**
 * EXR: R, G, B, A as half or as float of 32 bits, premultiplied, scene-linear. At full size its data window is the source's display
 * window.
 */
function encodeExr(
  picture: Picture,
  source: FilePart | undefined,
  type: 'half' | 'float',
  compression: Written,
  runtime: Runtime,
  origin: string | undefined,
): Encoded {
  const { width, height } = picture;
  const { planes, held } =
    type === 'half'
      ? halvesOf(runtime, picture)
      : { planes: [0, 1, 2, 3].map((c) => channelOf(picture, c)), held: 0 };
  const channels = [...'RGBA'].map((name, c) => ({ name, type, samples: planes[c] }));
  const { screenWindowCenter: centre, screenWindowWidth: wide } = source?.attributes ?? {};
  const display = source?.displayWindow;
  const same =
    display && display.xMax - display.xMin + 1 === width && display.yMax - display.yMin + 1 === height;
  const dataWindow: Box = same ? display : { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const bytes = writeExr(
    {
      channels,
      compression,
      dataWindow,
      pixelAspectRatio: source?.pixelAspectRatio,
      screenWindowCenter: centre?.type === 'v2f' ? [centre.value[0], centre.value[1]] : undefined,
      screenWindowWidth: wide?.type === 'float' ? wide.value : undefined,
      attributes: carried(source, origin),
    },
    nodeZlib,
  );
  return {
    bytes,
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

/** PNG, straight alpha, sRGB: of 16 bits, or of 8 with an ordered dither, so that dark slopes do not band. */
async function encodePng(picture: Picture, bits: 8 | 16, origin: string | undefined): Promise<Encoded> {
  const { width, height, data } = picture;
  const { codes, lost } =
    bits === 16
      ? straight(picture, new Uint16Array(data.length), code)
      : straight(picture, new Uint8Array(data.length), dithered);
  const bytes = await sharp(codes, { raw: { width, height, channels: 4 } })
    .toColourspace(bits === 16 ? 'rgb16' : 'srgb')
    .png({ compressionLevel: 6 })
    .toBuffer();
  const whole =
    origin === undefined ? bytes : withPngText(bytes, originKey, origin, (data) => deflateSync(data));
  return { bytes: whole, note: lostNote(lost, 'PNG') };
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
function encodeTiff({ width, height, data }: Picture, type: 'uint16' | 'float'): Encoded {
  const file = { width, height, software: 'Zafiro' };
  if (type === 'float')
    return { bytes: writeTiff({ ...file, samples: data, premultiplied: true }, nodeZlib) };
  const { codes, lost } = straight({ width, height, data }, new Uint16Array(data.length), code);
  return {
    bytes: writeTiff({ ...file, samples: codes, premultiplied: false }, nodeZlib),
    note: lostNote(lost, 'a TIFF of 16 bits'),
  };
}

/**
 * A finished frame in a format; `source` is the file that it begins at, whose attributes an EXR keeps. `origin` are the words on how it was made, which EXR
 * and PNG carry.
 */
export async function encode(
  picture: Picture,
  given: GivenSettings,
  source?: FilePart,
  runtime: Runtime = threadRuntime(),
  origin?: string,
): Promise<Encoded> {
  const { format, compression, quality }: ExportSettings = v.parse(exportSettings, given);
  switch (format) {
    case 'exr':
      return encodeExr(picture, source, 'half', compression, runtime, origin);
    case 'exr32':
      return encodeExr(picture, source, 'float', compression, runtime, origin);
    case 'png16':
      return encodePng(picture, 16, origin);
    case 'png8':
      return encodePng(picture, 8, origin);
    case 'tiff16':
      return encodeTiff(picture, 'uint16');
    case 'tiff32':
      return encodeTiff(picture, 'float');
    case 'jpeg':
      return encodeJpeg(picture, quality);
  }
}
