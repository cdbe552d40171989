import fc from 'fast-check';
import { expect, test } from 'vitest';
import { interleaveAndPredict, undoPredictAndInterleave } from '../../core/formats/exr/compression/bytes';
import { readExr } from '../../core/formats/exr/read';
import { writeExr } from '../../core/formats/exr/write';
import { fflateZlib } from '../../core/formats/exr/zlib-fflate';
import { nodeZlib } from './zlib';

test('fflate in the browser and zlib on the server read each other', () => {
  const samples = Float32Array.from({ length: 800 }, (_, i) => Math.floor(i / 7) * 0.25);
  const dataWindow = { xMin: 0, yMin: 0, xMax: 19, yMax: 39 };
  for (const [writer, reader] of [
    [nodeZlib, fflateZlib],
    [fflateZlib, nodeZlib],
  ]) {
    const file = writeExr({ channels: [{ name: 'Z', type: 'float', samples }], dataWindow }, writer);
    expect(readExr(file, reader).samples.get('Z')).toEqual(samples);
  }
});

test('the fast way back from prediction gives the bytes of the plain one, at every size', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
      const plain = undoPredictAndInterleave(bytes.slice());
      expect(Buffer.from(nodeZlib.unpredict!(bytes)).equals(Buffer.from(plain))).toBe(true);
    }),
  );
  for (const size of [0, 1, 2, 15, 16, 17, 31, 32, 33, 65537, 3_000_001]) {
    const bytes = Uint8Array.from({ length: size }, (_, i) => Math.imul(i, 0x9e3779b1) >>> 24);
    const plain = undoPredictAndInterleave(bytes.slice());
    expect(Buffer.from(nodeZlib.unpredict!(bytes)).equals(Buffer.from(plain))).toBe(true);
  }
});

test('the fast prediction gives the bytes of the plain one, at every size', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
      expect(Buffer.from(nodeZlib.predict!(bytes)).equals(Buffer.from(interleaveAndPredict(bytes)))).toBe(
        true,
      );
    }),
  );
  for (const size of [0, 1, 2, 15, 16, 17, 31, 32, 33, 65537, 3_000_001]) {
    const bytes = Uint8Array.from({ length: size }, (_, i) => Math.imul(i, 0x9e3779b1) >>> 24);
    expect(Buffer.from(nodeZlib.predict!(bytes)).equals(Buffer.from(interleaveAndPredict(bytes)))).toBe(true);
  }
});
