import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FileError } from '../file-error';
import { defaultLimits } from '../limits';
import { interleaveAndPredict, packRuns, undoPredictAndInterleave, unpackRuns } from './compression/bytes';
import type { Written } from './compression/chunk';
import { readParts } from './header';
import { checkRoom, readExr, readPart } from './read';
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
const file = (compression: Written = 'zip') =>
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
  const { tableAt } = readParts(whole)[0];
  const view = new DataView(whole.buffer);
  // Swapped entries of the table of chunks, as in a file of random line order.
  const [first, last] = [view.getBigUint64(tableAt, true), view.getBigUint64(tableAt + 39 * 8, true)];
  view.setBigUint64(tableAt, last, true);
  view.setBigUint64(tableAt + 39 * 8, first, true);
  expect(readExr(whole, fflateZlib).samples.get('Z')).toEqual(ramp);
});

describe('broken files are errors that say what and where', () => {
  const read = (b: Uint8Array) => () => readExr(b, fflateZlib);

  test('cut short anywhere', () => {
    for (const compression of ['none', 'rle', 'zips', 'zip', 'piz'] as const) {
      const whole = file(compression);
      fc.assert(
        fc.property(fc.integer({ min: 0, max: whole.length - 1 }), (length) => {
          try {
            readExr(whole.slice(0, length), fflateZlib);
            expect.unreachable('a file cut short was read');
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
            expect((error as FileError).offset).toBeLessThanOrEqual(length + 8);
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
            expect(error).toBeInstanceOf(FileError);
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
    const damaged = file();
    damaged.fill(255, damaged.length - 20);
    expect(read(damaged)).toThrow(/damaged|unpacks/);
  });
});

describe('a file that is still being written', () => {
  /** The table comes last to a writer: all of it is zero, and the file ends inside the third chunk. */
  const cut = () => {
    const whole = file();
    const [part] = readParts(whole);
    const third = Number(new DataView(whole.buffer).getBigUint64(part.tableAt + 16, true));
    whole.fill(0, part.tableAt, part.tableAt + 24);
    return whole.slice(0, third + 20);
  };

  test('gives the rows that are whole, and says what is missing', () => {
    const bytes = cut();
    const { samples, missing } = readPart(bytes, readParts(bytes)[0], fflateZlib);
    expect(samples.get('Z')!.subarray(0, 32 * 20)).toEqual(ramp.subarray(0, 32 * 20));
    expect(
      samples
        .get('Z')!
        .subarray(32 * 20)
        .every((v) => v === 0),
    ).toBe(true);
    expect(missing).toMatchObject({ chunks: 1, of: 3 });
    expect(missing!.first.message).toMatch(/Chunk 2 of 3 is not in the file.*still being written/);
    expect(missing!.first.code).toBe('truncated');
  });

  test('is an error where all of it is wanted', () => {
    expect(() => readExr(cut(), fflateZlib)).toThrow(/still being written/);
  });

  test('a table that is lost is found again', () => {
    const whole = file();
    const [part] = readParts(whole);
    whole.fill(255, part.tableAt, part.tableAt + 24);
    expect(readExr(whole, fflateZlib).samples.get('Z')).toEqual(ramp);
  });
});

test('sizes past the limits are refused before memory is taken, naming the limit', () => {
  expect(() => readParts(file(), { side: 100, pixels: 700 })).toThrow(
    /20 by 40 pixels is past the limit \(100 a side.*ZAFIRO_MOST_PIXELS/,
  );
});

test('flags of a version that nobody knows are refused', () => {
  const bytes = file();
  bytes[6] |= 0x01;
  expect(() => readParts(bytes)).toThrow(/version flags 0x10000 are not known/);
});

test('entries of the table that share a chunk are not believed: its bytes are unpacked once', () => {
  const bytes = file('none');
  const [part] = readParts(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const first = view.getUint32(part.tableAt, true);
  // All forty entries name the first chunk; the chunks themselves are still there, and found.
  for (let i = 0; i < 40; i++) view.setUint32(part.tableAt + i * 8, first, true);
  const whole = readPart(bytes, part, fflateZlib);
  expect(whole.missing).toBeUndefined();
  expect(Array.from(whole.samples.get('Z')!)).toEqual(Array.from(ramp));
  // In a file of one chunk that says it has forty, the one is unpacked, and the others are missing.
  const cut = bytes.slice(0, first + 8 + 20 * 4);
  const { missing } = readPart(cut, readParts(cut)[0], fflateZlib);
  expect(missing).toMatchObject({ chunks: 39, of: 40 });
});

test('an entry that begins inside another chunk is not believed', () => {
  const bytes = file('none');
  const [part] = readParts(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const first = view.getUint32(part.tableAt, true);
  view.setUint32(part.tableAt + 8, first + 12, true);
  const { samples, missing } = readPart(bytes, part, fflateZlib);
  expect(missing).toBeUndefined();
  expect(Array.from(samples.get('Z')!)).toEqual(Array.from(ramp));
});

test('a part of very many channels is too large', () => {
  const samples = new Float32Array(1);
  const channels = Array.from({ length: 5000 }, (_, i) => ({
    name: `c${i}`,
    type: 'float' as const,
    samples,
  }));
  const bytes = writeExr({ channels, dataWindow: { xMin: 0, yMin: 0, xMax: 0, yMax: 0 } }, fflateZlib);
  expect(() => readParts(bytes)).toThrow(/more than 4096 channels/);
});

test('channels that unpack to more than is allowed at once are refused before memory is taken', () => {
  const [part] = readParts(file());
  const vast = { ...part, dataWindow: { xMin: 0, yMin: 0, xMax: 16383, yMax: 8191 } };
  const channels = Array.from({ length: 17 }, (_, i) => ({ ...part.channels[0], name: `c${i}` }));
  const names = channels.map((c) => c.name);
  expect(() => checkRoom({ ...vast, channels }, names, defaultLimits)).toThrow(
    /Its 17 channels have 2282 million samples, and 2147 million are unpacked at once.*ZAFIRO_MOST_PIXELS/,
  );
  expect(() => checkRoom({ ...vast, channels }, names.slice(1), defaultLimits)).not.toThrow();
});
