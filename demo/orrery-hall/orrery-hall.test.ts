import { expect, test } from 'vitest';
import { projected, projectionOf } from '../../core/formats/camera';
import type { Attributes } from '../../core/formats/exr/types';
import { bufferBytes, buffersOn, ranks, renderRows, size } from './render';
import { blocked, sceneAt, sunward, trace } from './scene';
import { cameraAttributes } from './write';

const rows = { from: 260, to: 272 };
const pixels = { from: rows.from * size.width, to: rows.to * size.width };
const frame = buffersOn(new ArrayBuffer(bufferBytes));
renderRows(3, rows.from, rows.to, frame);

test('the same rows on any number of threads', () => {
  const again = buffersOn(new ArrayBuffer(bufferBytes));
  for (let y = rows.from; y < rows.to; y++) renderRows(3, y, y + 1, again);
  for (const [name, samples] of Object.entries(frame)) {
    expect(
      Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength).equals(
        Buffer.from(again[name as 'sun'].buffer, again[name as 'sun'].byteOffset, samples.byteLength),
      ),
    ).toBe(true);
  }
});

test('beauty is the sum of the light passes, and coverage with sky fills the pixel', () => {
  for (let i = pixels.from; i < pixels.to; i++) {
    for (let c = 0; c < 3; c++) {
      const sum = (['sun', 'fill', 'reflection', 'emission'] as const).reduce(
        (s, n) => s + frame[n][i * 3 + c],
        0,
      );
      expect(Math.abs(frame.beauty[i * 4 + c] - sum)).toBeLessThan(1e-5 * Math.max(1, sum));
    }
    let covered = 0;
    for (let r = 0; r < ranks; r++) covered += frame.coverage[(i * ranks + r) * 2 + 1];
    expect(covered).toBeLessThanOrEqual(1.0001);
  }
});

test('position, depth and the camera agree', () => {
  const { camera } = sceneAt(3);
  for (let i = pixels.from; i < pixels.to; i += 37) {
    if (frame.depth[i] === Infinity) continue;
    const d = [camera.x, camera.y, camera.z].map((v, c) => frame.position[i * 3 + c] - v);
    const along = d[0] * camera.forward[0] + d[1] * camera.forward[1] + d[2] * camera.forward[2];
    expect(Math.abs(along - frame.depth[i])).toBeLessThan(1e-3 * frame.depth[i]);
  }
});

test('where the camera shows a place is the pixel whose position it is, by each set of attributes that tells of a camera', () => {
  const all = cameraAttributes(sceneAt(3).camera);
  const aspect = size.width / size.height;
  const { worldToNDC, worldToCamera, fieldOfView, ...place } = all;
  const ways = [{ worldToNDC }, { worldToCamera, fieldOfView }, { ...place, fieldOfView }];
  const projections = ways.map((attributes) => projectionOf(attributes as unknown as Attributes, aspect)!);
  expect(projectionOf({ worldToCamera } as Attributes, aspect)).toBeUndefined();
  let seen = 0;
  for (let i = pixels.from; i < pixels.to; i += 37) {
    if (frame.depth[i] === Infinity) continue;
    const position = Array.from(frame.position.subarray(i * 3, i * 3 + 3));
    for (const projection of projections) {
      const at = projected(projection, position, size)!;
      expect(Math.abs(size.width / 2 + at.x - ((i % size.width) + 0.5))).toBeLessThan(0.02);
      expect(Math.abs(size.height / 2 - at.y - (Math.floor(i / size.width) + 0.5))).toBeLessThan(0.02);
    }
    seen++;
  }
  expect(seen).toBeGreaterThan(100);
  // Nothing behind the camera is in the picture.
  const { x, y, z, forward } = sceneAt(3).camera;
  const behind = [x, y, z].map((v, c) => v - forward[c]);
  for (const projection of projections) expect(projected(projection, behind, size)).toBeUndefined();
});

test('the sky is infinitely far, seen through the far arch; walls keep the sun out', () => {
  const scene = sceneAt(1);
  const through = { ox: 0, oy: 2.5, oz: -20, dx: 0, dy: 0.02, dz: -Math.sqrt(1 - 0.0004) };
  expect(trace(scene, through).t).toBe(Infinity);
  const [dx, dy, dz] = sunward;
  let lit = 0;
  for (let i = 0; i < 4000; i++) {
    const [x, z] = [((i * 37) % 200) / 10 - 10, ((i * 61) % 200) / 10 - 10];
    if (x * x + z * z < 140 && !blocked(scene, { ox: x, oy: 0.001, oz: z, dx, dy, dz }, Infinity)) lit++;
  }
  expect(lit / 4000).toBeGreaterThan(0.005);
  expect(lit / 4000).toBeLessThan(0.2);
});
