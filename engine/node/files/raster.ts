import sharp, { type Metadata, type Sharp, type SharpOptions } from 'sharp';
import { CutShort, FileError } from '../../../core/formats/file-error';
import type { FileFormat, Lacking, OpenFile } from '../../../core/formats/file-info';
import { checkSize, type Limits } from '../../../core/formats/limits';
import { type Plane, planeArrays, type SampleType } from '../../../core/formats/samples';
import { plainPart } from './plain-part';

const types: Record<string, SampleType> = { uchar: 'uint8', ushort: 'uint16', float: 'float' };

/** The colour space in which sharp hands samples over unchanged, by their type and whether they are grey. */
const spaces = {
  uint8: { grey: 'b-w', colour: 'srgb' },
  uint16: { grey: 'grey16', colour: 'rgb16' },
  float: { grey: 'b-w', colour: 'scrgb' },
} as const;

/** Tag 338 of TIFF 6.0, ExtraSamples: true where the fourth channel is stored multiplied into the others (associated alpha). */
function isAssociated(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = bytes[0] === 0x49;
  try {
    if (view.getUint16(2, little) !== 42) return false;
    const at = view.getUint32(4, little);
    const count = view.getUint16(at, little);
    for (let i = 0; i < count; i++) {
      const entry = at + 2 + i * 12;
      if (view.getUint16(entry, little) === 338) return view.getUint16(entry + 8, little) === 1;
    }
  } catch {
    // A table outside the file: the decoder says what is wrong.
  }
  return false;
}

function problem(error: unknown, length: number): FileError {
  const said = (error as Error).message.split('\n')[0].replace(/^.*?: /, '');
  if (/premature|truncat|end of|not enough|too short/i.test((error as Error).message))
    return new CutShort('The file ends too early', length);
  return new FileError(`The file is damaged: ${said}`, 0);
}

async function samplesOf(
  picture: Sharp,
  type: SampleType,
  grey: boolean,
): Promise<{ data: Buffer; channels: number }> {
  const space = spaces[type as keyof typeof spaces][grey ? 'grey' : 'colour'];
  const depth = { uint8: 'uchar', uint16: 'ushort', float: 'float' } as const;
  const kept = type === 'float' ? picture.pipelineColourspace(grey ? 'b-w' : 'scrgb') : picture;
  const { data, info } = await kept
    .toColourspace(space)
    .raw({ depth: depth[type as keyof typeof depth] })
    .toBuffer({ resolveWithObject: true });
  return { data, channels: info.channels };
}

/** PNG, JPEG and TIFF, by sharp. Embedded profiles are left aside: numbers come as the file has them. @throws {FileError} */
export async function openRaster(bytes: Uint8Array, format: FileFormat, limits: Limits): Promise<OpenFile> {
  const open = (failOn: 'error' | 'none') =>
    sharp(bytes, { limitInputPixels: limits.pixels, failOn, ignoreIcc: true } as SharpOptions);
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
    throw new FileError(`Samples of the sort ${depth} are not read`, 0, 'Write 8 or 16 bits, or floats.');
  const grey = (meta.channels ?? 3) <= 2 && /^(b-w|grey16)$/.test(meta.space ?? '');
  const names = [...(grey ? ['Y'] : ['R', 'G', 'B']), ...(meta.hasAlpha ? ['A'] : [])];
  const { part, passes } = plainPart(
    width,
    height,
    names,
    type,
    meta.compression ?? (format === 'png' ? 'deflate' : format),
  );
  const associated = format === 'tiff' && isAssociated(bytes);
  return {
    info: { format, parts: [part], passes },
    colourOf: () => ({
      encoding: type === 'float' ? 'linear' : 'srgb',
      straight: names.includes('A') && !associated,
    }),
    async read(_, channels) {
      let lacking: Lacking | undefined;
      let got: { data: Buffer; channels: number };
      try {
        got = await samplesOf(open('error'), type, grey);
      } catch (error) {
        const why = problem(error, bytes.length);
        // What there is of it.
        got = await samplesOf(open('none'), type, grey).catch(() => {
          throw why;
        });
        lacking = { share: 0, why };
      }
      const Samples = planeArrays[type];
      const { data } = got;
      const all = new Samples(
        data.buffer as ArrayBuffer,
        data.byteOffset,
        data.byteLength / Samples.BYTES_PER_ELEMENT,
      );
      const planes = new Map<string, Plane>();
      for (const name of channels) {
        const c = Math.min(names.indexOf(name), got.channels - 1);
        const plane = new Samples(width * height);
        for (let i = 0, p = c; i < plane.length; i++, p += got.channels) plane[i] = all[p];
        planes.set(name, plane);
      }
      return lacking ? { planes, lacking } : { planes };
    },
  };
}
