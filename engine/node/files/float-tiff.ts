import type { OpenFile } from '../../../core/formats/file-info';
import { readFloatTiff } from '../../../core/formats/float-tiff';
import type { FloatLayout, RasterHead } from '../../../core/formats/raster-head';
import { nodeZlib } from '../zlib';
import { plainPart } from './plain-part';

/** TIFF whose floats have 16 or 64 bits, which sharp does not read. */
export function openFloatTiff(bytes: Uint8Array, head: RasterHead, layout: FloatLayout): OpenFile {
  const { width, height, associated } = head;
  const { samples } = layout;
  const colours = samples >= 3 ? ['R', 'G', 'B'] : ['Y'];
  const names = samples > colours.length ? [...colours, 'A'] : colours;
  const { part, passes } = plainPart(width, height, names, 'float', layout.packed ? 'deflate' : 'none');
  return {
    info: { format: 'tiff', parts: [part], passes },
    colourOf: () => ({ encoding: 'linear', straight: names.includes('A') && associated === undefined }),
    async read(_, channels) {
      const planes = readFloatTiff(bytes, head, layout, nodeZlib);
      return { planes: new Map(channels.map((c) => [c, planes[names.indexOf(c)]])) };
    },
  };
}
