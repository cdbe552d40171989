import { describe, expect, test } from 'vitest';
import { hashRandom } from '../math/hash-random';
import type { Picture } from '../picture/picture';
import { grayOf, locate, templateAt } from './follow';

const [width, height] = [200, 140];
/** Soft spots of light of our own, everywhere on a picture that is moved by (dx, dy): each pixel is computed where it is then. */
const spots = Array.from({ length: 160 }, (_, i) => ({
  x: hashRandom(1, i) * (width + 80) - 40,
  y: hashRandom(2, i) * (height + 80) - 40,
  light: hashRandom(3, i) * 4,
  size: 1.4 + hashRandom(4, i) * 3,
}));
function pictureAt(dx: number, dy: number, gain = 1, noise = 0, seed = 0): Picture {
  const data = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let light = 0.2;
      for (const s of spots) {
        const [u, v] = [x + 0.5 - s.x - dx, y + 0.5 - s.y - dy];
        light += s.light * Math.exp(-(u * u + v * v) / (2 * s.size * s.size));
      }
      light = light * gain + noise * (hashRandom(seed + 9, y * width + x) - 0.5);
      data.fill(light, (y * width + x) * 4, (y * width + x) * 4 + 3);
    }
  return { width, height, channels: 4, at: 0, data };
}
const side = 31;
const reach = 12;
const window = (p: Picture, x: number, y: number) => {
  const size = side + 2 * reach + 8;
  return grayOf(p, Math.floor(x - size / 2), Math.floor(y - size / 2), size);
};
/** The drift of a frame, known to any part of a pixel. */
const drift = (n: number) => ({
  x: 4.37 * n + 2.1 * Math.sin(n),
  y: -1.93 * n + 1.3 * Math.cos(2 * n) - 1.3,
});

describe('a patch is followed to parts of a pixel', () => {
  const follow = (gain: (n: number) => number, noise: number, renewed: boolean) => {
    const start = { x: 50.5, y: 90.5 };
    let template = templateAt(
      window(pictureAt(0, 0, gain(0), noise), start.x, start.y),
      start.x,
      start.y,
      side,
    );
    let at = start;
    let [sum, least] = [0, 1];
    const count = 12;
    for (let n = 1; n <= count; n++) {
      const { x, y } = drift(n);
      const gray = window(pictureAt(x, y, gain(n), noise, n * 1000), at.x, at.y);
      const found = locate(template, gray, at.x, at.y, reach);
      sum += (found.x - start.x - x) ** 2 + (found.y - start.y - y) ** 2;
      least = Math.min(least, found.confidence);
      at = { x: found.x, y: found.y };
      if (renewed) template = templateAt(gray, found.x, found.y, side);
    }
    return { rms: Math.sqrt(sum / count), least };
  };
  test('as it moves alone', () => {
    const { rms, least } = follow(() => 1, 0, false);
    expect(rms).toBeLessThan(0.01);
    expect(least).toBeGreaterThan(0.999);
  });
  test('while the light changes and the picture has noise: rms no more than 0.05 px', () => {
    expect(follow((n) => 1 + 0.5 * Math.sin(n), 0.04, false).rms).toBeLessThan(0.05);
  });
  test('taken anew on each frame it drifts a little', () => {
    expect(follow(() => 1, 0, true).rms).toBeLessThan(0.05);
  });
});

test('what is not there any more is not sure, nor is what has nothing in it', () => {
  const start = { x: 100.5, y: 70.5 };
  const template = templateAt(window(pictureAt(0, 0), start.x, start.y), start.x, start.y, side);
  const gone = pictureAt(97, 61);
  expect(locate(template, window(gone, start.x, start.y), start.x, start.y, reach).confidence).toBeLessThan(
    0.7,
  );
  const even: Picture = { ...gone, data: new Float32Array(width * height * 4).fill(0.5) };
  expect(locate(template, window(even, start.x, start.y), start.x, start.y, reach).confidence).toBe(0);
});

test('light that is not a number, endless or below 0 counts as none; beyond the border is the border', () => {
  const data = new Float32Array(4 * 4).fill(0.25);
  data.set([Number.NaN, 0, 0, 1], 0);
  data.set([-4, -4, -4, 1], 4);
  data.set([Infinity, 0, 0, 1], 8);
  const gray = grayOf({ width: 2, height: 2, channels: 4, at: 0, data }, -1, -1, 4);
  const at = (x: number, y: number) => gray.data[y * 4 + x];
  expect([at(0, 0), at(0, 3), at(3, 0), at(3, 3)]).toEqual([0, 0, 0, 0.5]);
  // Blurred by a quarter, a half and a quarter both ways.
  expect(at(2, 2)).toBeCloseTo(0.5 * 0.75 * 0.75, 12);
});
