import { afterEach, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { scopesOf, vectorPlace } from './waveform';

afterEach(() => workspace.clear());

test('codes are those of the display; what is past white has a bin of its own', () => {
  // A ramp of four greys over 256 columns, the last past white.
  const grey = [0, 0.2140411, 1, 4];
  const p = pictureOf(256, 2, (i) => ((i & 3) === 3 ? 1 : grey[Math.floor(((i >> 2) % 256) / 64)]));
  const { histogram, waveform, columns, levels } = scopesOf(p);
  for (const channel of histogram) {
    expect(channel.reduce((a, b) => a + b, 0)).toBe(512);
    expect(channel[0]).toBe(128);
    // 0.2140411 is code 0.5 of IEC 61966-2-1.
    expect(channel[47] + channel[48]).toBe(128);
    expect(channel.at(-1)).toBe(256);
  }
  expect([columns, levels]).toEqual([128, 65]);
  const at = (column: number) => waveform.filter(([c]) => c === column);
  expect(at(0)).toEqual([[0, 0, 1]]);
  expect(at(127)).toEqual([[127, 64, 1]]);
  // Shares of every column add up to all of it.
  for (let c = 0; c < columns; c++)
    expect(at(c).reduce((sum, [, , share]) => sum + share, 0)).toBeCloseTo(1, 9);
});

test('the parade has a third for each channel; the vectorscope places colours as ITU-R BT.709 says', () => {
  const p = pictureOf(64, 8, (i) => [1, 0.2140411, 0, 1][i & 3]);
  const { parade, vectors, side } = scopesOf(p);
  for (const [c, level] of [64, 32, 0].entries()) {
    const own = parade.filter(([x]) => Math.floor(x / 42) === c);
    expect(own).toHaveLength(42);
    for (const [, l, share] of own) {
      expect(Math.abs(l - level)).toBeLessThanOrEqual(1);
      expect(share).toBe(1);
    }
  }
  expect(vectors).toHaveLength(1);
  expect(vectors[0][2]).toBe(1);
  // Grey lies in the middle. Of 75 % bars (SMPTE EG 1) red has C_B −0.0859 and C_R +0.375 in parts of the whole swing.
  expect(vectorPlace(0.5, 0.5, 0.5)).toEqual([(side - 1) / 2, (side - 1) / 2]);
  const [cb, cr] = vectorPlace(0.75, 0, 0).map((v) => v / (side - 1) - 0.5);
  expect(cb).toBeCloseTo(-0.0859, 3);
  expect(cr).toBeCloseTo(0.375, 3);
});
