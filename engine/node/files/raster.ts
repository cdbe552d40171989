import sharp, { type Metadata, type Sharp, type SharpOptions } from 'sharp';
import { CutShort, FileError } from '../../../core/formats/file-error';
import type { FileFormat } from '../../../core/formats/file-formats';
import type { Lacking, OpenFile } from '../../../core/formats/file-info';
import { checkSize, type Limits } from '../../../core/formats/limits';
import { checkHead, readRasterHead } from '../../../core/formats/raster-head';
import { type Plane, planeArrays, type SampleType } from '../../../core/formats/samples';
import { openFloatTiff } from './float-tiff';
import { plainPart } from './plain-part';

const types: Record<string, SampleType> = { uchar: 'uint8', ushort: 'uint16', float: 'float' };

/** The colour space in which sharp hands samples over unchanged, by their type and whether they are grey. */
const spaces = {
  uint8: { grey: 'b-w', colour: 'srgb' },
  uint16: { grey: 'grey16', colour: 'rgb16' },
  float: { grey: 'b-w', colour: 'scrgb' },
} as const;

function problem(error: unknown, length: number): FileError {
  const said = (error as Error).message.split('\n')[0].replace(/^.*?: /, '');
  if (/premature|truncat|end of|not enough|too short/i.test((error as Error).message))
    return new CutShort('The file ends too early', length);
  return new FileError(`The file is damaged: ${said}`, 0);
}

const depths = { uint8: 'uchar', uint16: 'ushort', float: 'float' } as const;
type Depth = keyof typeof depths;

/** Interleaved samples, as the file has them. */
async function interleaved(
  picture: Sharp,
  type: Depth,
  grey: boolean,
): Promise<{ all: Plane; channels: number }> {
  const space = spaces[type][grey ? 'grey' : 'colour'];
  const kept = type === 'float' ? picture.pipelineColourspace(space) : picture;
  const { data, info } = await kept
    .toColourspace(space)
    .raw({ depth: depths[type] })
    .toBuffer({ resolveWithObject: true });
  const Samples = planeArrays[type];
  const count = data.byteLength / Samples.BYTES_PER_ELEMENT;
  return { all: new Samples(data.buffer as ArrayBuffer, data.byteOffset, count), channels: info.channels };
}

/** A plane for each of `count` channels. Grey beside alpha leaves sharp whole only one at a time, but for 16 bits. */
async function planesOf(open: () => Sharp, type: Depth, grey: boolean, count: number): Promise<Plane[]> {
  if (grey && count === 2 && type !== 'uint16') {
    const one = async (c: 0 | 1) => {
      const picture = open().pipelineColourspace('b-w').extractChannel(c);
      return (await interleaved(picture, type, true)).all;
    };
    return [await one(0), await one(1)];
  }
  const { all, channels } = await interleaved(open(), type, grey);
  return Array.from({ length: count }, (_, c) => {
    if (all instanceof Uint16Array) return every16(all, c, channels);
    if (all instanceof Uint8Array) return every8(all, c, channels);
    return Float32Array.from({ length: all.length / channels }, (_, i) => all[c + i * channels]);
  });
}

/** Every `step`-th code from the `from`-th on. A loop for each type: one for both is several times slower. */
function every8(codes: Uint8Array, from: number, step: number): Uint8Array {
  const plane = new Uint8Array(codes.length / step);
  for (let i = 0, p = from; i < plane.length; i++, p += step) plane[i] = codes[p];
  return plane;
}
function every16(codes: Uint16Array, from: number, step: number): Uint16Array {
  const plane = new Uint16Array(codes.length / step);
  for (let i = 0, p = from; i < plane.length; i++, p += step) plane[i] = codes[p];
  return plane;
}

/** PNG, JPEG and TIFF, by sharp. Embedded profiles are left aside: numbers come as the file has them. @throws {FileError} */
export async function openRaster(bytes: Uint8Array, format: FileFormat, limits: Limits): Promise<OpenFile> {
  const head = readRasterHead(bytes, format);
  const associated = head?.associated !== undefined;
  let given = bytes;
  if (associated) {
    // The decoder would divide colour by alpha, and light without alpha would be lost: it is told that there is nothing to divide.
    given = bytes.slice();
    given[head.associated!] = 2;
  }
  const open = (failOn: 'error' | 'none') =>
    sharp(given, { limitInputPixels: limits.pixels, failOn, ignoreIcc: true } as SharpOptions);
  // Told before the decoder refuses it in words of its own.
  if (head) {
    checkSize('size', head.width, head.height, limits, 0);
    checkHead(head, bytes.length);
    if (head.floats) return openFloatTiff(bytes, head, head.floats);
  }
  let meta: Metadata;
  try {
    meta = await open('error').metadata();
  } catch (error) {
    throw problem(error, bytes.length);
  }
  const { width = 0, height = 0, depth = '' } = meta;
  checkSize('size', width, height, limits, 0);
  const type = types[depth];
  if (!type)
    throw new FileError(`Samples of the type ${depth} are not read`, 0, 'Write 8 or 16 bits, or floats.');
  const grey = (meta.channels ?? 3) <= 2 && /^(b-w|grey16)$/.test(meta.space ?? '');
  const names = [...(grey ? ['Y'] : ['R', 'G', 'B']), ...(meta.hasAlpha ? ['A'] : [])];
  const { part, passes } = plainPart(
    width,
    height,
    names,
    type,
    meta.compression ?? (format === 'png' ? 'deflate' : format),
  );
  return {
    info: { format, parts: [part], passes },
    colourOf: () => ({
      encoding: type === 'float' ? 'linear' : 'srgb',
      straight: names.includes('A') && !associated,
    }),
    async read(_, channels) {
      let lacking: Lacking | undefined;
      const all = await planesOf(() => open('error'), type as Depth, grey, names.length).catch(
        async (error) => {
          const why = problem(error, bytes.length);
          lacking = { share: 0, why };
          // What there is of it.
          return planesOf(() => open('none'), type as Depth, grey, names.length).catch(() => {
            throw why;
          });
        },
      );
      const planes = new Map(channels.map((name) => [name, all[names.indexOf(name)]]));
      return lacking ? { planes, lacking } : { planes };
    },
  };
}
