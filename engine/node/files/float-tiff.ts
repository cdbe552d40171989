import { fromArrayBuffer } from 'geotiff';
import { FileError } from '../../../core/formats/file-error';
import type { OpenFile } from '../../../core/formats/file-info';
import type { RasterHead } from '../../../core/formats/raster-head';
import { plainPart } from './plain-part';

const damaged = (error: unknown) =>
  new FileError(`The file is damaged: ${(error as Error).message.split('\n')[0]}`, 0);

/**
 * TIFF whose floats have 16 or 64 bits, which sharp does not read. Those of 64 bits become the nearest of 32, the ones that Zafiro computes with.
 * @throws {FileError}
 */
export async function openFloatTiff(
  bytes: Uint8Array,
  { width, height, associated }: RasterHead,
): Promise<OpenFile> {
  const memory = bytes.slice().buffer as ArrayBuffer;
  const picture = await fromArrayBuffer(memory)
    .then((tiff) => tiff.getImage(0))
    .catch((error) => {
      throw damaged(error);
    });
  const samples = picture.getSamplesPerPixel();
  const colours = samples >= 3 ? ['R', 'G', 'B'] : ['Y'];
  const names = samples > colours.length ? [...colours, 'A'] : colours;
  const { part, passes } = plainPart(width, height, names, 'float', 'tiff');
  return {
    info: { format: 'tiff', parts: [part], passes },
    colourOf: () => ({ encoding: 'linear', straight: names.includes('A') && associated === undefined }),
    async read(_, channels) {
      try {
        const planes = await picture.readRasters({ samples: channels.map((c) => names.indexOf(c)) });
        return { planes: new Map(channels.map((c, i) => [c, Float32Array.from(planes[i] as Float64Array)])) };
      } catch (error) {
        throw damaged(error);
      }
    },
  };
}
