import { expect, test } from 'vitest';
import { plainRuntime } from '../../tests/runtime';
import { floatsToHalves } from '../formats/half';
import { halvesOf } from './halves';

const runtime = plainRuntime(32);
/** What halves hold of floats: of what is finite never more than the largest. */
function wanted(data: Float32Array): Uint16Array {
  const kept = data.slice();
  for (let i = 0; i < kept.length; i++)
    if (Number.isFinite(kept[i]) && Math.abs(kept[i]) > 65504) kept[i] = Math.sign(kept[i]) * 65504;
  return floatsToHalves(kept);
}

test('floats become the nearest halves: every half, the middles between them and their neighbours, both signs', () => {
  const words: number[] = [];
  for (let e = 0; e < 0x7f800000; e += 0x1000) words.push(e, e + 1, e + 0xfff);
  words.push(0x7f800000, 0x7fc00000, 0x7f800001, 0x477fe001, 0x477fefff, 0x477ff000, 0x7f7fffff);
  const all = new Uint32Array([...words, ...words.map((w) => w | 0x80000000)]);
  const width = 1003;
  const height = Math.ceil(all.length / 4 / width);
  const data = new Float32Array(width * height * 4);
  data.set(new Float32Array(all.buffer));
  const { planes, held } = halvesOf(runtime, { width, height, data });
  const halves = wanted(data);
  let [wrong, past] = [0, 0];
  for (let i = 0; i < data.length; i++) {
    if (planes[i & 3][i >> 2] !== halves[i]) wrong++;
    if (Number.isFinite(data[i]) && Math.abs(data[i]) > 65504) past++;
  }
  expect(wrong).toBe(0);
  expect(held).toBe(past);
});

test('a picture of any width is written to its last pixel, and no further', () => {
  for (const width of [1, 2, 3, 4, 5, 7, 9])
    for (const height of [1, 2, 3]) {
      const data = Float32Array.from({ length: width * height * 4 }, (_, i) => (i % 5 === 0 ? 1e6 : i / 8));
      const { planes, held } = halvesOf(runtime, { width, height, data });
      planes.forEach((plane, c) => {
        for (let i = 0; i < plane.length; i++) expect(plane[i]).toBe(wanted(data)[i * 4 + c]);
      });
      expect(held).toBe(data.filter((v) => v > 65504).length);
    }
});
