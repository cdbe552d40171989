import { squareSpectrum } from '../kernels/fourier';
import type { Workspace } from '../kernels/workspace';
import { cosTurns, sinTurns } from '../math/elementary';
import { hashRandom } from '../math/hash-random';
import { rgbOfWavelength } from './spectrum';

/** A diaphragm: how many blades, turned by degrees, how round their edges are (0 straight, 1 a circle), how much dirt lies on the glass. */
export type Aperture = { blades: number; rotate: number; curvature: number; dust: number; seed: number };

/** The opening as a plane of `side` pixels, 1 where light comes through, its edge smoothed over a pixel, or over the share `soft` of its radius. */
export function aperturePlane(a: Aperture, side: number, soft = 0): Float32Array {
  const plane = new Float32Array(side * side);
  const radius = Math.max(0.75, side / 2 - 2);
  const edge = Math.max(1, soft * radius);
  const sector = 1 / a.blades;
  const apothem = cosTurns(sector / 2);
  const specks = Array.from({ length: Math.round(a.dust * 60) }, (_, i) => ({
    x: (hashRandom(a.seed, 3 * i) * 2 - 1) * radius,
    y: (hashRandom(a.seed, 3 * i + 1) * 2 - 1) * radius,
    r: radius * (0.01 + 0.05 * hashRandom(a.seed, 3 * i + 2)),
  }));
  const angles = Array.from({ length: a.blades }, (_, k) => (k + 0.5) * sector + a.rotate / 360);
  const normals = angles.map((t) => [cosTurns(t), -sinTurns(t)]);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const [dx, dy] = [x + 0.5 - side / 2, y + 0.5 - side / 2];
      const away = Math.sqrt(dx * dx + dy * dy);
      let flat = 0;
      for (const [nx, ny] of normals) flat = Math.max(flat, (dx * nx + dy * ny) / apothem);
      const size = flat + (away - flat) * a.curvature;
      let open = Math.min(1, Math.max(0, (radius - size) / edge + 0.5));
      for (const s of specks) {
        const [ux, uy] = [dx - s.x, dy - s.y];
        const near = Math.sqrt(ux * ux + uy * uy);
        open = Math.min(open, Math.min(1, Math.max(0, near - s.r + 0.5)));
      }
      plane[y * side + x] = open;
    }
  }
  return plane;
}

/** |F|² of an opening over a square of `size`, its middle at (size/2, size/2): the far field of light of one wavelength. */
export function farField(workspace: Workspace, a: Aperture, opening: number, size: number): Float64Array {
  const room = size - (opening >> 1);
  const spectrum = squareSpectrum(workspace, aperturePlane(a, opening), room, room);
  try {
    const { wide, high } = spectrum;
    const data = new Float32Array(workspace.runtime.arena.memory.buffer, spectrum.at, wide * high * 2);
    const out = new Float64Array(wide * high);
    // Columns lie in fours: the four numbers of a row together.
    for (let x = 0; x < wide; x++) {
      for (let y = 0; y < high; y++) {
        const at = ((x >> 2) * high * 4 + y * 4 + (x & 3)) * 2;
        const power = data[at] * data[at] + data[at + 1] * data[at + 1];
        out[((y + high / 2) % high) * wide + ((x + wide / 2) % wide)] = power;
      }
    }
    return out;
  } finally {
    spectrum.drop();
  }
}

const [opening, field] = [128, 1024];
const waves = Array.from({ length: 24 }, (_, i) => 400 + (i + 0.5) * 12.5);
const middleWave = 550;

/**
 * Three planes, for red, green and blue, of what a pixel's light puts around it through a diaphragm: the far field summed over wavelengths,
 * which it grows with, to colours; white in sum. 2 radius + 1 pixels a side; the bright core, which stays where it is, is left out. Sum 1.
 */
export function aperturePlanes(workspace: Workspace, a: Aperture, radius: number): Float32Array[] {
  const far = farField(workspace, a, opening, field);
  const side = 2 * radius + 1;
  const planes = [0, 1, 2].map(() => new Float32Array(side * side));
  const scale = field / 2 / (radius * 1.35);
  // The first dark ring of a round opening lies at 1.22 field/opening (Airy); inside it is the core.
  const core = (1.22 * field) / opening / scale;
  const value = (u: number, v: number) => {
    const [x, y] = [u + field / 2, v + field / 2];
    const [ix, iy] = [Math.floor(x), Math.floor(y)];
    if (ix < 0 || iy < 0 || ix + 1 >= field || iy + 1 >= field) return 0;
    const [fx, fy] = [x - ix, y - iy];
    const at = iy * field + ix;
    return (
      (far[at] * (1 - fx) + far[at + 1] * fx) * (1 - fy) +
      (far[at + field] * (1 - fx) + far[at + field + 1] * fx) * fy
    );
  };
  const colours = waves.map(rgbOfWavelength);
  // A small plane has coarse pixels: each is the mean of its parts.
  const n = Math.max(1, Math.min(4, Math.round(160 / radius)));
  const parts = Array.from({ length: n * n }, (_, i) => [
    ((i % n) + 0.5) / n - 0.5,
    (Math.floor(i / n) + 0.5) / n - 0.5,
  ]);
  for (let y = -radius; y <= radius; y++) {
    for (let x = -radius; x <= radius; x++) {
      const away = Math.sqrt(x * x + y * y);
      if (away >= radius || away < core) continue;
      const fade = Math.min(1, (1 - away / radius) / 0.25) * Math.min(1, (away - core) / core);
      const at = (y + radius) * side + x + radius;
      for (const [i, wave] of waves.entries()) {
        const k = (scale * middleWave) / wave;
        let power = 0;
        for (const [dx, dy] of parts) power += value((x + dx) * k, (y + dy) * k);
        for (let c = 0; c < 3; c++) planes[c][at] += power * k * k * fade * colours[i][c];
      }
    }
  }
  return planes.map((plane) => {
    let sum = 0;
    // What no screen shows stays black.
    for (let i = 0; i < plane.length; i++) sum += plane[i] = Math.max(0, plane[i]);
    return plane.map((v) => v / (sum || 1));
  });
}
