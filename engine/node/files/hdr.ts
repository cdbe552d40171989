import { fromXyz, rec709, toRec709 } from '../../../core/colour/primaries';
import type { Attributes } from '../../../core/formats/exr/types';
import { CutShort } from '../../../core/formats/file-error';
import type { OpenFile } from '../../../core/formats/file-info';
import { readHdr, readHdrHead } from '../../../core/formats/hdr';
import type { Limits } from '../../../core/formats/limits';
import { plainPart } from './plain-part';

/** The primaries of a Radiance header: eight numbers behind PRIMARIES. */
function primariesOf(attributes: Record<string, string>): number[] {
  const given = (attributes.PRIMARIES ?? '').split(/\s+/).map(Number);
  return given.length === 8 && given.every(Number.isFinite) ? given : [...rec709];
}

/** A Radiance picture. @throws {FileError} */
export function openHdr(bytes: Uint8Array, limits: Limits): OpenFile {
  const { width, height, xyz, attributes } = readHdrHead(bytes, limits);
  const kept: Attributes = Object.fromEntries(
    Object.entries(attributes).map(([k, value]) => [k, { type: 'string', value }]),
  );
  const { part, passes } = plainPart(width, height, ['R', 'G', 'B'], 'float', 'rle', kept);
  return {
    info: { format: 'hdr', parts: [part], passes },
    colourOf: () => ({
      encoding: 'linear',
      straight: false,
      matrix: xyz ? fromXyz(rec709) : toRec709(primariesOf(attributes)),
    }),
    async read(_, channels) {
      const hdr = readHdr(bytes, limits);
      const all = new Map(['R', 'G', 'B'].map((name, c) => [name, hdr.planes[c]]));
      const planes = new Map(channels.map((c) => [c, all.get(c)!]));
      const lost = 1 - hdr.rows / hdr.height;
      if (lost === 0) return { planes };
      return {
        planes,
        lacking: { share: lost, why: new CutShort('The file ends before its last row', bytes.length) },
      };
    },
  };
}
