import { afterEach, describe, expect, test } from 'vitest';
import { runtime, workspace } from '../../tests/runtime';
import { aperturePlane, aperturePlanes, farField } from './aperture';
import { rgbOfWavelength } from './spectrum';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const clean = { rotate: 0, curvature: 0, dust: 0, seed: 1 };

/** How many spikes stand out of a ring of a far field: maxima by angle far above the mean. */
function spikesOf(far: Float64Array, size: number, radius: number) {
  const n = 720;
  const ring = Array.from({ length: n }, (_, i) => {
    const turn = (i / n) * 2 * Math.PI;
    let sum = 0;
    for (let r = radius * 0.85; r < radius * 1.15; r++) {
      const [x, y] = [Math.round(size / 2 + r * Math.cos(turn)), Math.round(size / 2 + r * Math.sin(turn))];
      sum += far[y * size + x];
    }
    return sum;
  });
  const mean = ring.reduce((a, b) => a + b, 0) / n;
  let count = 0;
  let inside = false;
  // Begun where it is dark.
  const start = ring.indexOf(Math.min(...ring));
  for (let i = 0; i < n; i++) {
    const high = ring[(start + i) % n] > 2 * mean;
    if (high && !inside) count++;
    inside = high;
  }
  return count;
}

describe('a diaphragm', () => {
  test('an even number of blades gives as many spikes, an odd one twice as many (Hecht, Optics, ch. 10)', () => {
    for (const [blades, spikes] of [
      [4, 4],
      [5, 10],
      [6, 6],
      [7, 14],
    ]) {
      const far = farField(workspace, { ...clean, blades }, 128, 1024);
      expect(spikesOf(far, 1024, 130)).toBe(spikes);
    }
  });
  test('round, it gives Airy’s rings: the first dark one at 1.22 of size over opening', () => {
    const far = farField(workspace, { ...clean, blades: 6, curvature: 1 }, 128, 1024);
    const row = (r: number) => far[512 * 1024 + 512 + r];
    // The opening is 124 pixels wide within its plane.
    const dark = (1.22 * 1024) / 124;
    let least = 1;
    for (let r = 2; r < 16; r++) if (row(r) < row(least)) least = r;
    expect(Math.abs(least - dark)).toBeLessThan(1);
    expect(row(0)).toBeGreaterThan(1000 * row(least));
  });
  test('its area is that of the polygon, and dust takes some of it', () => {
    const sum = (a: Float32Array) => a.reduce((x, y) => x + y, 0);
    const open = sum(aperturePlane({ ...clean, blades: 6 }, 128));
    const radius = 62;
    expect(Math.abs(open / (1.5 * Math.sqrt(3) * radius * radius) - 1)).toBeLessThan(0.02);
    expect(sum(aperturePlane({ ...clean, blades: 6, dust: 1 }, 128))).toBeLessThan(open * 0.98);
  });
  test('its colours sum to white, and red reaches further than blue', () => {
    const planes = aperturePlanes(workspace, { ...clean, blades: 6 }, 80);
    for (const plane of planes) expect(plane.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 4);
    const outer = planes.map((plane) =>
      plane.reduce((s, v, i) => {
        const away = Math.hypot((i % 161) - 80, Math.floor(i / 161) - 80);
        return s + v * away;
      }, 0),
    );
    expect(outer[0]).toBeGreaterThan(outer[2]);
  });
});

test('colours of wavelengths: 450 nm is blue, 530 nm green, 620 nm red, and all together near white', () => {
  const most = (nm: number) => {
    const rgb = rgbOfWavelength(nm);
    return rgb.indexOf(Math.max(...rgb));
  };
  expect([most(450), most(530), most(620)]).toEqual([2, 1, 0]);
  const sum = [0, 0, 0];
  for (let nm = 390; nm <= 720; nm += 5) {
    const rgb = rgbOfWavelength(nm);
    for (let c = 0; c < 3; c++) sum[c] += rgb[c];
  }
  // Light of equal energy is a little pink on a D65 screen: red 1.205, green 0.948, blue 0.909.
  const mean = (sum[0] + sum[1] + sum[2]) / 3;
  expect(sum[0] / mean).toBeCloseTo(1.205 / 1.0207, 1);
  expect(sum[2] / mean).toBeCloseTo(0.909 / 1.0207, 1);
});
