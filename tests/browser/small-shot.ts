import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import type { Finish } from '../../core/finish/finish';
import type { Attributes } from '../../core/formats/exr/types';
import { writeExr } from '../../core/formats/exr/write';
import { nodeZlib } from '../../engine/node/zlib';
import { json, until } from '../server/instance';
import { saveOf } from './page';

/** Frames of our own for tests of the interface: small, quick, and every number in them known. */

export const size = { width: 320, height: 180 };

type Light = (x: number, y: number) => readonly [number, number, number];

/** An ordinary dull render: nothing above 0.75, brightest in its upper left quarter. */
export const dull: Light = (x, y) => {
  const window = x > 40 && x < 120 && y > 20 && y < 80 ? 0.5 : 0;
  return [0.1 + window + x / 3200, 0.15 + window / 2, 0.2 + y / 1800];
};

/** What a frame may have beside: where its pixels are in the world, and what the file says of its camera. */
type World = {
  position: (x: number, y: number) => readonly [number, number, number];
  attributes: Attributes;
};

/** A whole frame: colour, depth from 2 on the left to 12 on the right, and ids in stripes of 80 pixels, from 1. */
export function writeFrame(
  path: string,
  light: Light = dull,
  depth = (x: number) => 2 + x / 32,
  world?: World,
) {
  const { width, height } = size;
  const plane = (at: (x: number, y: number) => number) =>
    Float32Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width)));
  const channels = [
    { name: 'A', type: 'float' as const, samples: plane(() => 1) },
    ...(['R', 'G', 'B'] as const).map((name, c) => ({
      name,
      type: 'float' as const,
      samples: plane((x, y) => light(x, y)[c]),
    })),
    { name: 'depth.Z', type: 'float' as const, samples: plane(depth) },
    ...(world
      ? (['X', 'Y', 'Z'] as const).map((axis, c) => ({
          name: `position.${axis}`,
          type: 'float' as const,
          samples: plane((x, y) => world.position(x, y)[c]),
        }))
      : []),
    {
      name: 'id.I',
      type: 'uint' as const,
      samples: Uint32Array.from({ length: width * height }, (_, i) => 1 + Math.floor((i % width) / 80)),
    },
  ];
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  writeFileSync(path, writeExr({ channels, dataWindow, attributes: world?.attributes }, nodeZlib));
}

/** Writes frames `numbers` of a sequence into a folder; gives its pattern. */
export function writeFrames(folder: string, name: string, numbers: readonly number[]): string {
  mkdirSync(folder, { recursive: true });
  for (const n of numbers) writeFrame(join(folder, `${name}.${String(n).padStart(4, '0')}.exr`));
  return join(folder, `${name}.####.exr`);
}

/** Makes a shot of frames that lie in a folder; gives its id. */
export async function importShot(
  address: string,
  shot: string,
  patterns: readonly string[],
): Promise<number> {
  const body = JSON.stringify({ project: 'Tests', shot, media: patterns.map((pattern) => ({ pattern })) });
  return (await json<{ shot: number }>(`${address}/api/shots`, { method: 'POST', body })).shot;
}

/** Saves a document as the newest of a shot's first finish; gives the address of that finish. */
export async function giveFinish(address: string, shot: number, document: Finish): Promise<string> {
  const { finishes } = await json<ShotDetail>(`${address}/api/shots/${shot}`);
  const finish = `${address}/api/finishes/${finishes[0].id}`;
  // A page that is left may be saving still: then it is done once more.
  await until('the finish', async () => {
    const { version } = await json<SavedFinish>(finish);
    const { status } = await fetch(finish, { method: 'PUT', body: saveOf(version, document) });
    if (status !== 200 && status !== 409) throw new Error(`${finish}: ${status}`);
    return status === 200;
  });
  return finish;
}

/** Frames of a sequence `hall`, from 1, each with its light. */
export function saveFrames(folder: string, lights: readonly Light[]): void {
  lights.forEach((light, i) => {
    writeFrame(join(folder, `hall.${String(i + 1).padStart(4, '0')}.exr`), light);
  });
}
