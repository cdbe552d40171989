import fc from 'fast-check';
import { expect, test } from 'vitest';
import { floatsToHalves, halvesToFloats } from './half';

const every = Uint16Array.from({ length: 65536 }, (_, i) => i);
const isNaNHalf = (h: number) => (h & 0x7c00) === 0x7c00 && (h & 0x3ff) !== 0;

test('every half that is a number goes to float and back to itself', () => {
  const back = floatsToHalves(halvesToFloats(every));
  for (const h of every) if (!isNaNHalf(h)) expect(back[h]).toBe(h);
  for (const h of every) if (isNaNHalf(h)) expect(isNaNHalf(back[h])).toBe(true);
});

test('known values (IEEE 754-2008, binary16)', () => {
  const known: [number, number][] = [
    [0x3c00, 1],
    [0xc000, -2],
    [0x7bff, 65504],
    [0x0400, 2 ** -14],
    [0x0001, 2 ** -24],
    [0x3555, 0.333251953125],
    [0x7c00, Infinity],
  ];
  for (const [half, value] of known) expect(halvesToFloats(Uint16Array.of(half))[0]).toBe(value);
});

test('rounding picks the nearest half, ties to even', () => {
  fc.assert(
    fc.property(fc.float({ min: -65504, max: 65504, noNaN: true }), (value) => {
      const [half] = floatsToHalves(Float32Array.of(value));
      const [got] = halvesToFloats(Uint16Array.of(half));
      for (const other of [half - 1, half + 1]) {
        if ((other & 0x7fff) > 0x7bff || other < 0) continue;
        const [near] = halvesToFloats(Uint16Array.of(other));
        if (Math.abs(near - value) === Math.abs(got - value) && near !== got) expect(half & 1).toBe(0);
        else expect(Math.abs(got - value)).toBeLessThanOrEqual(Math.abs(near - value));
      }
    }),
    { numRuns: 2000 },
  );
  expect(Array.from(floatsToHalves(Float32Array.of(65519.99, 65520, 2 ** -25, 2 ** -25 * 1.001)))).toEqual([
    0x7bff, 0x7c00, 0, 1,
  ]);
});
