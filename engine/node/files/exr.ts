import { rec709, toRec709, toXyz } from '../../../core/colour/primaries';
import { readParts } from '../../../core/formats/exr/header';
import {
  checkRoom,
  listChunks,
  type Reading,
  readChunks,
  readingOutcome,
  roomFor,
} from '../../../core/formats/exr/read';
import type { Attributes, Part } from '../../../core/formats/exr/types';
import type { FileError } from '../../../core/formats/file-error';
import type { OpenFile } from '../../../core/formats/file-info';
import type { Limits } from '../../../core/formats/limits';
import { strandKindOf } from '../../../core/formats/pass-kinds';
import { type Pass, passesOf } from '../../../core/formats/passes';
import { nodeZlib } from '../zlib';

/** Primaries that the header names; those of Rec. 709 if it names none. */
const primariesOf = (attributes: Attributes) =>
  attributes.chromaticities?.type === 'chromaticities' ? attributes.chromaticities.value : rec709;

/** Samples of a part's channels, unpacked by this thread; others may help, see `readShared`. */
export type PartReader = (
  bytes: Uint8Array,
  part: Part,
  channels: readonly string[],
) => Promise<Reading & { first?: FileError }>;

const alone: PartReader = async (bytes, part, channels) => {
  const list = listChunks(bytes, part);
  const reading = { bytes, part, list, room: roomFor(part, channels), done: new Uint8Array(list.count) };
  let i = 0;
  return { ...reading, first: readChunks(reading, nodeZlib, () => i++) };
};

/** An OpenEXR file. @throws {FileError} */
export function openExr(bytes: Uint8Array, limits: Limits, reader: PartReader = alone): OpenFile {
  const parts = readParts(bytes, limits);
  const passes = passesOf(parts);
  return {
    info: {
      format: 'exr',
      passes,
      parts: parts.map((p) => ({
        name: p.name,
        type: p.tiles ? 'tiled' : 'scanline',
        dataWindow: p.dataWindow,
        displayWindow: p.displayWindow,
        pixelAspectRatio: p.pixelAspectRatio,
        lineOrder: p.lineOrder,
        compression: p.compression,
        channels: p.channels.map(({ name, type, xSampling, ySampling }) => ({
          name,
          type,
          xSampling,
          ySampling,
        })),
        attributes: {
          ...p.attributes,
          screenWindowCenter: { type: 'v2f', value: [...p.screenWindowCenter] },
          screenWindowWidth: { type: 'float', value: p.screenWindowWidth },
        },
      })),
    },
    colourOf(pass: Pass) {
      const primaries = primariesOf(parts[pass.part].attributes);
      const isLight = strandKindOf(pass.kind) === 'picture' && pass.channels.length >= 3;
      const isLuma = pass.channels.some((c) => /(^|\.)RY$/.test(c));
      return {
        encoding: 'linear',
        straight: false,
        matrix: isLight ? toRec709(primaries) : undefined,
        luma: isLuma ? toXyz(primaries).slice(3, 6) : undefined,
      };
    },
    async read(part, channels) {
      checkRoom(parts[part], channels, limits);
      const reading = await reader(bytes, parts[part], channels);
      const { samples, missing } = readingOutcome(reading, reading.list.count, reading.first);
      return {
        planes: samples,
        lacking: missing && { share: missing.chunks / missing.of, why: missing.first },
      };
    },
  };
}
