import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { interleaveAndPredict, packRuns, undoPredictAndInterleave, unpackRuns } from './compress';
import { ExrError } from './error';
import { readExr, readHeader } from './read';
import type { Compression } from './types';
import { writeExr } from './write';
import { fflateZlib } from './zlib-fflate';

const bytes = fc.uint8Array({ maxLength: 700 });

test('prediction and interleaving undo each other', () => {
  fc.assert(
    fc.property(bytes, (b) => {
      expect(Array.from(undoPredictAndInterleave(interleaveAndPredict(b)))).toEqual(Array.from(b));
    }),
  );
});

test('runs undo each other, runs or not', () => {
  const runs = fc
    .array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 1, max: 300 })), { maxLength: 20 })
    .map((list) => Uint8Array.from(list.flatMap(([v, n]) => new Array(n).fill(v))));
  fc.assert(
    fc.property(fc.oneof(bytes, runs), (b) => {
      expect(Array.from(unpackRuns(packRuns(b), b.length, 0))).toEqual(Array.from(b));
    }),
  );
});

const window = { xMin: 0, yMin: 0, xMax: 19, yMax: 39 };
const ramp = Float32Array.from({ length: 800 }, (_, i) => Math.floor(i / 7) * 0.25);
const file = (compression: Compression = 'zip') =>
  writeExr(
    { channels: [{ name: 'Z', type: 'float', samples: ramp }], dataWindow: window, compression },
    fflateZlib,
  );

test('only the channels asked for are unpacked', () => {
  const channels = ['A', 'B', 'C'].map((name) => ({ name, type: 'float' as const, samples: ramp }));
  const whole = writeExr({ channels, dataWindow: window }, fflateZlib);
  expect([...readExr(whole, fflateZlib, ['B']).samples.keys()]).toEqual(['B']);
});

test('rows may come in any order', () => {
  const whole = file('none');
  const { chunksAt } = readHeader(whole);
  const view = new DataView(whole.buffer);
  // Swapped entries of the table of chunks, as in a file of random line order.
  const [first, last] = [view.getBigUint64(chunksAt, true), view.getBigUint64(chunksAt + 39 * 8, true)];
  view.setBigUint64(chunksAt, last, true);
  view.setBigUint64(chunksAt + 39 * 8, first, true);
  expect(readExr(whole, fflateZlib).samples.get('Z')).toEqual(ramp);
});

describe('broken files are errors that say what and where', () => {
  const read = (b: Uint8Array) => () => readExr(b, fflateZlib);

  test('cut short anywhere', () => {
    for (const compression of ['none', 'rle', 'zips', 'zip'] as const) {
      const whole = file(compression);
      fc.assert(
        fc.property(fc.integer({ min: 0, max: whole.length - 1 }), (length) => {
          try {
            readExr(whole.slice(0, length), fflateZlib);
            expect.unreachable('a file cut short was read');
          } catch (error) {
            expect(error).toBeInstanceOf(ExrError);
            expect((error as ExrError).offset).toBeLessThanOrEqual(length + 8);
            expect((error as Error).message).toMatch(/at byte \d+/);
          }
        }),
      );
    }
  });

  test('any byte changed: either an EXR error or samples of the right count', () => {
    const whole = file();
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: whole.length - 1 }),
        fc.integer({ min: 1, max: 255 }),
        (at, by) => {
          const changed = whole.slice();
          changed[at] ^= by;
          try {
            for (const samples of readExr(changed, fflateZlib).samples.values())
              expect(samples.length).toBeGreaterThan(0);
          } catch (error) {
            expect(error).toBeInstanceOf(ExrError);
          }
        },
      ),
      { numRuns: 600 },
    );
  });

  test('in words', () => {
    expect(read(new Uint8Array(100))).toThrow(/not an OpenEXR file/);
    const deep = file();
    deep[5] |= 0x08;
    expect(read(deep)).toThrow(/Deep EXR/);
    const unwritten = file();
    const { chunksAt } = readHeader(unwritten);
    unwritten.fill(0, chunksAt + 8, chunksAt + 16);
    expect(read(unwritten)).toThrow(/Chunk 1 of 3 was never written.*still being written/s);
    const damaged = file();
    damaged.fill(255, damaged.length - 20);
    expect(read(damaged)).toThrow(/damaged|unpacks/);
  });
});
