import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { isLossy, written } from '../../core/formats/exr/compression/chunk';
import { readExr } from '../../core/formats/exr/read';
import { type Box, boxHeight, boxWidth, type PixelType, type Samples } from '../../core/formats/exr/types';
import { writeExr } from '../../core/formats/exr/write';
import { floatsToHalves } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';
import { dump, inFolder, make } from './oiio';

/**
 * Our EXR codec both ways against OpenImageIO (Debian's python3-openimageio), which reads and writes through the
 * reference library: every sample must agree bit for bit.
 */
const windows: { name: string; dataWindow: Box; displayWindow: Box }[] = [
  {
    name: 'one pixel',
    dataWindow: { xMin: 0, yMin: 0, xMax: 0, yMax: 0 },
    displayWindow: { xMin: 0, yMin: 0, xMax: 0, yMax: 0 },
  },
  {
    name: 'odd size',
    dataWindow: { xMin: 0, yMin: 0, xMax: 36, yMax: 40 },
    displayWindow: { xMin: 0, yMin: 0, xMax: 36, yMax: 40 },
  },
  {
    name: 'smaller data',
    dataWindow: { xMin: 5, yMin: 3, xMax: 20, yMax: 21 },
    displayWindow: { xMin: 0, yMin: 0, xMax: 31, yMax: 31 },
  },
  {
    name: 'larger, offset data',
    dataWindow: { xMin: -7, yMin: -9, xMax: 29, yMax: 25 },
    displayWindow: { xMin: 0, yMin: 0, xMax: 15, yMax: 15 },
  },
];
/** Those that keep every bit; DWA is held to its error in export-parts.test.ts. */
const compressions = written.filter((c) => !isLossy(c));

/** Samples with runs, noise, very large and very small values, infinities. */
function samplesFor(type: PixelType, count: number, seed: number): Samples {
  let s = seed * 2654435761;
  const next = () => {
    s = (Math.imul(s ^ (s >>> 13), 0x5bd1e995) + 0x27d4eb2f) | 0;
    return s >>> 0;
  };
  if (type === 'uint') return Uint32Array.from({ length: count }, (_, i) => (i % 9 < 4 ? 7 : next()));
  const special = [0, 1, -1, 65504, 2 ** -24, Infinity, -Infinity, 12.25];
  const floats = Float32Array.from({ length: count }, (_, i) =>
    i % 11 < 5 ? 0.5 : i % 17 === 0 ? special[next() % special.length] : (next() / 2 ** 32 - 0.2) * 30,
  );
  return type === 'half' ? floatsToHalves(floats) : floats;
}

const sameBits = (a: Samples, b: Samples) => {
  const bytes = (x: Samples) => Buffer.from(x.buffer, x.byteOffset, x.byteLength);
  return a.constructor === b.constructor && bytes(a).equals(bytes(b));
};

const layers: [string, PixelType][] = [
  ['R', 'half'],
  ['G', 'half'],
  ['B', 'half'],
  ['A', 'half'],
  ['depth.Z', 'float'],
  ['object.id', 'uint'],
  ['a.layer.name.well.past.thirty.one.characters.R', 'float'],
];

describe.each(windows)('$name', ({ dataWindow, displayWindow }) => {
  const count = boxWidth(dataWindow) * boxHeight(dataWindow);

  test.each(compressions)(
    'what we write with %s, OpenImageIO reads bit for bit, and so do we',
    (compression) =>
      inFolder((folder) => {
        const channels = layers.map(([name, type], i) => ({
          name,
          type,
          samples: samplesFor(type, count, i + 1),
        }));
        const bytes = writeExr(
          {
            channels,
            dataWindow,
            displayWindow,
            compression,
            attributes: {
              owner: { type: 'string', value: 'Orrery Hall' },
              imageCounter: { type: 'int', value: 7 },
              eye: { type: 'v3f', value: [1, 2.5, -3] },
            },
          },
          nodeZlib,
        );
        const path = join(folder, 'ours.exr');
        writeFileSync(path, bytes);
        const theirs = dump(path);
        const ours = readExr(bytes, nodeZlib);
        expect([theirs.x, theirs.y, theirs.width, theirs.height]).toEqual([
          dataWindow.xMin,
          dataWindow.yMin,
          boxWidth(dataWindow),
          boxHeight(dataWindow),
        ]);
        expect(theirs.full.slice(2)).toEqual([boxWidth(displayWindow), boxHeight(displayWindow)]);
        expect(theirs.attributes).toMatchObject({ imageCounter: 7, eye: [1, 2.5, -3], compression });
        for (const { name, type, samples } of channels) {
          expect(theirs.types[name]).toBe(type);
          expect(sameBits(theirs.samples.get(name)!, samples)).toBe(true);
          expect(sameBits(ours.samples.get(name)!, samples)).toBe(true);
        }
      }),
  );

  test.each(compressions)('what OpenImageIO writes with %s, we read bit for bit', (compression) =>
    inFolder((folder) => {
      for (const types of [
        ['half', 'float', 'half'],
        ['uint', 'uint', 'uint'],
      ] as PixelType[][]) {
        const channels = types.map((type, i) => ({
          name: `layer.${'RGB'[i]}`,
          type,
          samples: samplesFor(type, count, i + 20),
        }));
        const path = join(folder, 'theirs.exr');
        make({ channels, dataWindow, displayWindow, compression }, path);
        const { header, samples } = readExr(readFileSync(path), nodeZlib);
        expect(header.dataWindow).toEqual(dataWindow);
        expect(header.displayWindow).toEqual(displayWindow);
        expect(header.compression).toBe(compression);
        for (const c of channels) expect(sameBits(samples.get(c.name)!, c.samples)).toBe(true);
      }
    }),
  );
});
