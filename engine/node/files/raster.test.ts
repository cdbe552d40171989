import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { expect, test } from 'vitest';
import { openFile } from './open';

/** What the head of a raster file says is reported as that, before a decoder says it in words of its own, or reads black. */
const picture = () => sharp({ create: { width: 24, height: 16, channels: 3, background: '#88aacc' } });
const said = (bytes: Uint8Array) =>
  openFile(bytes).then(
    () => 'it is read',
    (error: Error & { code: string }) => `${error.code}: ${error.message}`,
  );

/** Where the value of an entry of the first directory stands ("TIFF 6.0", section 2: 12 bytes an entry, little-endian here). */
function valueAt(tiff: Buffer, tag: number): number {
  const directory = tiff.readUInt32LE(4);
  for (let i = 0; i < tiff.readUInt16LE(directory); i++) {
    const entry = directory + 2 + i * 12;
    if (tiff.readUInt16LE(entry) === tag) return entry + 8;
  }
  throw new Error(`There is no tag ${tag}.`);
}

test('a size past the limit is too large, not damaged', async () => {
  const png = await picture().png().toBuffer();
  png.writeUInt32BE(70_000, 16);
  expect(await said(png)).toMatch(/^too-large: The size of 70000 by 16 pixels is past the limit/);
  const jpeg = await picture().jpeg().toBuffer();
  const frame = jpeg.indexOf(Buffer.from([0xff, 0xc0]));
  jpeg.writeUInt16BE(65_000, frame + 5);
  jpeg.writeUInt16BE(65_000, frame + 7);
  expect(await said(jpeg)).toMatch(/^too-large: The size of 65000 by 65000 pixels/);
  const tiff = await picture().tiff({ compression: 'lzw' }).toBuffer();
  // A number of 32 bits (type 4) in place of 16.
  tiff.writeUInt16LE(4, valueAt(tiff, 256) - 6);
  tiff.writeUInt32LE(80_000, valueAt(tiff, 256));
  expect(await said(tiff)).toMatch(/^too-large: The size of 80000 by 16 pixels/);
});

test('TIFF of a compression that is not known is refused, not read as black', async () => {
  const tiff = await picture().tiff({ compression: 'lzw' }).toBuffer();
  expect(await said(tiff)).toBe('it is read');
  tiff.writeUInt16LE(4711, valueAt(tiff, 259));
  expect(await said(tiff)).toMatch(/^damaged: TIFF compression 4711 is not read .* Write it with none, LZW/);
});

test('TIFF with a strip past its end is cut short', async () => {
  const tiff = await picture().tiff({ compression: 'none' }).toBuffer();
  const at = valueAt(tiff, 273);
  tiff.writeUInt32LE(tiff.length - 4, at);
  expect(await said(tiff)).toMatch(/^truncated: Strip 1 of 1 lies past the end of the file/);
});

test('floats of 24 bits are refused in words; those of 64 that end early are damaged, not black', async () => {
  const tiff = await picture().toColourspace('b-w').tiff({ compression: 'none' }).toBuffer();
  tiff.writeUInt16LE(3, valueAt(tiff, 339));
  tiff.writeUInt16LE(24, valueAt(tiff, 258));
  expect(await said(tiff)).toMatch(/Floats of 24 bits are not read in TIFF.* Write floats of 32 bits/);
  tiff.writeUInt16LE(64, valueAt(tiff, 258));
  const file = await openFile(tiff);
  await expect(file.read(0, ['Y'])).rejects.toThrow(/Piece 1 of 1 has 384 bytes in place of 3072/);
});
test('a JPEG of very many scans is too large, before it is decoded', async () => {
  const jpeg = await picture().jpeg({ progressive: true }).toBuffer();
  const at = jpeg.indexOf(Buffer.from([0xff, 0xda]));
  const scan = jpeg.subarray(at, jpeg.length - 2);
  const bomb = Buffer.concat([jpeg.subarray(0, at), ...new Array(3000).fill(scan), jpeg.subarray(-2)]);
  expect(await said(jpeg)).toBe('it is read');
  expect(await said(bomb)).toMatch(/^too-large: The file has \d+ scans, at most 200 are read/);
  // Fewer scans of a large picture take as long.
  const large = Buffer.concat([jpeg.subarray(0, at), ...new Array(15).fill(scan), jpeg.subarray(-2)]);
  const frame = large.indexOf(Buffer.from([0xff, 0xc2]));
  large.writeUInt16BE(11_000, frame + 5);
  large.writeUInt16BE(11_000, frame + 7);
  expect(await said(large)).toMatch(/^too-large: The file has \d+ scans of 11000 by 11000 pixels/);
});

test('a small file of a very large picture is cut short, before it is decoded', async () => {
  const [png, jpeg] = [await picture().png().toBuffer(), await picture().jpeg().toBuffer()];
  const at = png.indexOf('IHDR') + 4;
  png.writeUInt32BE(11_000, at);
  png.writeUInt32BE(11_000, at + 4);
  png.writeUInt32BE(crc32(png.subarray(at - 4, at + 13)), at + 13);
  expect(await said(png)).toMatch(/^truncated: The file is too short for 11000 by 11000 pixels/);
  const frame = jpeg.indexOf(Buffer.from([0xff, 0xc0]));
  jpeg.writeUInt16BE(11_000, frame + 5);
  jpeg.writeUInt16BE(11_000, frame + 7);
  expect(await said(jpeg)).toMatch(/^truncated: The file is too short for 11000 by 11000 pixels/);
});
