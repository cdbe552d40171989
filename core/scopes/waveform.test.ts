import { afterEach, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { scopesOf } from './waveform';

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
