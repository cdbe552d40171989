import { type Scene, sceneAt, trace } from './scene';
import { addLight, noLight, randoms } from './shade';
import { freshHit, type Ray } from './surface';

export const size = { width: 960, height: 540 };
/** Samples a pixel, side by side in a square. */
const grid = 3;
/** Objects a pixel can hold in the id-mattes: two layers of two ranks. */
export const ranks = 4;

/** Where one frame is gathered; float samples per pixel in the order of their names. */
export type Buffers = {
  beauty: Float32Array;
  sun: Float32Array;
  fill: Float32Array;
  reflection: Float32Array;
  emission: Float32Array;
  depth: Float32Array;
  position: Float32Array;
  normal: Float32Array;
  /** Number of the object at the pixel's centre, from 1; 0 is sky. */
  object: Uint32Array;
  /** Object number and coverage by rank, largest coverage first. */
  coverage: Float32Array;
};

const perPixel = {
  beauty: 4,
  sun: 3,
  fill: 3,
  reflection: 3,
  emission: 3,
  depth: 1,
  position: 3,
  normal: 3,
  object: 1,
  coverage: 2 * ranks,
};
const pixels = size.width * size.height;

/** Bytes one frame needs, in shared memory so that threads fill rows of the same frame. */
export const bufferBytes = Object.values(perPixel).reduce((sum, n) => sum + n * pixels * 4, 0);

export function buffersOn(memory: ArrayBufferLike): Buffers {
  let at = 0;
  const take = (n: number) => {
    const from = at;
    at += n * pixels * 4;
    return [memory, from, n * pixels] as const;
  };
  const out: Record<string, Float32Array | Uint32Array> = {};
  for (const [name, n] of Object.entries(perPixel)) {
    out[name] = name === 'object' ? new Uint32Array(...take(n)) : new Float32Array(...take(n));
  }
  return out as unknown as Buffers;
}

/** The ray through a point of the picture, in pixels from the top left. */
function rayThrough(scene: Scene, px: number, py: number, ray: Ray) {
  const { camera } = scene;
  const u = ((2 * px) / size.width - 1) * camera.tanHalf;
  const v = ((1 - (2 * py) / size.height) * camera.tanHalf * size.height) / size.width;
  const d = [0, 1, 2].map((i) => camera.forward[i] + camera.right[i] * u + camera.up[i] * v);
  const s = 1 / Math.hypot(d[0], d[1], d[2]);
  ray.ox = camera.x;
  ray.oy = camera.y;
  ray.oz = camera.z;
  ray.dx = d[0] * s;
  ray.dy = d[1] * s;
  ray.dz = d[2] * s;
}

/** Renders rows `y0` to `y1` of `frame`; the same on any number of threads. */
export function renderRows(frame: number, y0: number, y1: number, to: Buffers) {
  const scene = sceneAt(frame);
  const { forward } = scene.camera;
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 };
  const hit = freshHit();
  const light = noLight();
  const seen = new Map<number, number>();
  for (let y = y0; y < y1; y++) {
    for (let x = 0; x < size.width; x++) {
      const i = y * size.width + x;
      const random = randoms(Math.imul(i + 1, 0x9e3779b1) ^ Math.imul(frame, 0x85ebca6b));
      for (const pass of Object.values(light)) pass.fill(0);
      seen.clear();
      for (let s = 0; s < grid * grid; s++) {
        rayThrough(
          scene,
          x + ((s % grid) + random()) / grid,
          y + (Math.floor(s / grid) + random()) / grid,
          ray,
        );
        trace(scene, ray, hit);
        seen.set(hit.object, (seen.get(hit.object) ?? 0) + 1);
        addLight(scene, ray, hit, light, random);
      }
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (const name of ['sun', 'fill', 'reflection', 'emission'] as const) {
          const value = light[name][c] / (grid * grid);
          to[name][i * 3 + c] = value;
          sum += value;
        }
        to.beauty[i * 4 + c] = sum;
      }
      to.beauty[i * 4 + 3] = 1;
      writeIds(seen, i, to);
      rayThrough(scene, x + 0.5, y + 0.5, ray);
      trace(scene, ray, hit);
      writeData(ray, hit, forward, i, to);
    }
  }
}

function writeIds(seen: Map<number, number>, i: number, to: Buffers) {
  const ranked = [...seen].filter(([object]) => object >= 0).sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  for (let r = 0; r < ranks; r++) {
    to.coverage[(i * ranks + r) * 2] = ranked[r] ? ranked[r][0] + 1 : 0;
    to.coverage[(i * ranks + r) * 2 + 1] = ranked[r] ? ranked[r][1] / (grid * grid) : 0;
  }
}

/** Data of the surface at the pixel's centre, not averaged: depth along the view's axis, position, normal, object. */
function writeData(
  ray: Ray,
  hit: ReturnType<typeof freshHit>,
  forward: readonly number[],
  i: number,
  to: Buffers,
) {
  const sky = hit.object < 0;
  const along = ray.dx * forward[0] + ray.dy * forward[1] + ray.dz * forward[2];
  to.depth[i] = sky ? Infinity : hit.t * along;
  to.object[i] = hit.object + 1;
  const p = i * 3;
  to.position[p] = sky ? 0 : ray.ox + ray.dx * hit.t;
  to.position[p + 1] = sky ? 0 : ray.oy + ray.dy * hit.t;
  to.position[p + 2] = sky ? 0 : ray.oz + ray.dz * hit.t;
  const side = hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz > 0 ? -1 : 1;
  to.normal[p] = sky ? 0 : hit.nx * side;
  to.normal[p + 1] = sky ? 0 : hit.ny * side;
  to.normal[p + 2] = sky ? 0 : hit.nz * side;
}
