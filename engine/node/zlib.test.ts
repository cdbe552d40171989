import { expect, test } from 'vitest';
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
