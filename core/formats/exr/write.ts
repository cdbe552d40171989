import { ByteWriter, writeAttribute, writeBox, writeChannelList, writeRaw } from './attributes';
import { blockOf, rowsPerChunk } from './blocks';
import { packChunk, type Written } from './compression/chunk';
import {
  type Attributes,
  type Box,
  boxHeight,
  boxWidth,
  bytesPerSample,
  compressions,
  type PixelType,
  type Samples,
  type Zlib,
} from './types';

export type ChannelToWrite = { name: string; type: PixelType; samples: Samples };

export type ExrToWrite = {
  channels: ChannelToWrite[];
  dataWindow: Box;
  displayWindow?: Box;
  compression?: Written;
  pixelAspectRatio?: number;
  screenWindowCenter?: [number, number];
  screenWindowWidth?: number;
  attributes?: Attributes;
};

function bodyOf(write: (w: ByteWriter) => void): Uint8Array {
  const w = new ByteWriter();
  write(w);
  return w.done();
}

/** Channels are stored in the order of their names' bytes ("OpenEXR File Layout", channel list). */
const byName = (a: { name: string }, b: { name: string }) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);

/**
 * A single-part scanline file with channels of any names and types; half samples are given as their bits.
 * Compression ZIP (the default), ZIPS, RLE, PIZ or none.
 * @throws {RangeError} if samples do not cover the data window.
 */
export function writeExr(picture: ExrToWrite, zlib: Zlib): Uint8Array {
  const { dataWindow, compression = 'zip' } = picture;
  const [width, height] = [boxWidth(dataWindow), boxHeight(dataWindow)];
  const rows = rowsPerChunk[compression];
  const channels = [...picture.channels].sort(byName);
  for (const c of channels) {
    if (c.samples.length !== width * height) {
      throw new RangeError(
        `Channel ${c.name} has ${c.samples.length} samples for ${width} by ${height} pixels`,
      );
    }
  }

  const w = new ByteWriter();
  w.int(20000630);
  const longNames = [...channels.map((c) => c.name), ...Object.keys(picture.attributes ?? {})].some(
    (n) => n.length > 31,
  );
  w.uint(2 | (longNames ? 0x400 : 0));
  const list = channels.map((c) => ({ ...c, linear: false, xSampling: 1, ySampling: 1 }));
  writeRaw(
    w,
    'channels',
    'chlist',
    bodyOf((b) => writeChannelList(b, list)),
  );
  writeRaw(w, 'compression', 'compression', Uint8Array.of(compressions.indexOf(compression)));
  writeRaw(
    w,
    'dataWindow',
    'box2i',
    bodyOf((b) => writeBox(b, dataWindow)),
  );
  writeRaw(
    w,
    'displayWindow',
    'box2i',
    bodyOf((b) => writeBox(b, picture.displayWindow ?? dataWindow)),
  );
  writeRaw(w, 'lineOrder', 'lineOrder', Uint8Array.of(0));
  writeAttribute(w, 'pixelAspectRatio', { type: 'float', value: picture.pixelAspectRatio ?? 1 });
  writeAttribute(w, 'screenWindowCenter', { type: 'v2f', value: picture.screenWindowCenter ?? [0, 0] });
  writeAttribute(w, 'screenWindowWidth', { type: 'float', value: picture.screenWindowWidth ?? 1 });
  for (const [name, attribute] of Object.entries(picture.attributes ?? {}))
    writeAttribute(w, name, attribute);
  w.byte(0);

  const chunks = Math.ceil(height / rows);
  const tableAt = w.length;
  w.raw(new Uint8Array(chunks * 8));
  const bytes = channels.map(
    (c) => new Uint8Array(c.samples.buffer, c.samples.byteOffset, c.samples.byteLength),
  );
  const rowBytes = channels.reduce((sum, c) => sum + bytesPerSample[c.type] * width, 0);
  for (let chunk = 0; chunk < chunks; chunk++) {
    const y = chunk * rows;
    const here = Math.min(rows, height - y);
    const raw = new Uint8Array(here * rowBytes);
    let p = 0;
    for (let row = y; row < y + here; row++) {
      channels.forEach((c, i) => {
        const length = bytesPerSample[c.type] * width;
        raw.set(bytes[i].subarray(row * length, (row + 1) * length), p);
        p += length;
      });
    }
    const block = blockOf(list, {
      ...dataWindow,
      yMin: y + dataWindow.yMin,
      yMax: y + here - 1 + dataWindow.yMin,
    });
    const packed = packChunk(raw, block, compression, zlib);
    w.setOffset(tableAt + chunk * 8, w.length);
    w.int(y + dataWindow.yMin);
    w.int(packed.length);
    w.raw(packed);
  }
  return w.done();
}
