import { mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import * as v from 'valibot';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { newFinish } from '../core/finish/edits';
import { exportSettings } from '../core/formats/export-formats';
import { writeExr } from '../core/formats/exr/write';
import { parsePattern } from '../core/formats/frame-pattern';
import { nodeZlib } from '../engine/node/zlib';
import { type Arrivals, frameArrivals } from './arrivals';

let folder: string;
let arrivals: Arrivals;
const at = (frame: number) => join(folder, `hall.${String(frame).padStart(4, '0')}.exr`);

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zafiro-arrivals-'));
  arrivals = frameArrivals({
    finish: newFinish('finish', 'Finish', { type: 'pass', media: 'hall', pass: '' }),
    media: { hall: { pattern: join(folder, 'hall.####.exr') } },
    scale: 1,
    settings: v.parse(exportSettings, { format: 'exr' }),
    out: parsePattern(join(folder, 'out.####.exr')),
  });
});
afterEach(async () => {
  await arrivals.close();
  rmSync(folder, { recursive: true, force: true });
});

/** A frame of one light. */
function frameOf(light: number): Uint8Array {
  const [width, height] = [32, 24];
  const samples = new Float32Array(width * height).fill(light);
  const channels = ['R', 'G', 'B', 'A'].map((name) => ({ name, type: 'float' as const, samples }));
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return writeExr({ channels, dataWindow }, nodeZlib);
}

/** Looks until exactly these frames are due. */
async function due(...frames: number[]) {
  const end = performance.now() + 20_000;
  for (;;) {
    const found = arrivals.due();
    if (JSON.stringify(found.map((d) => d.frame)) === JSON.stringify(frames)) return found;
    if (performance.now() > end) throw new Error(`Due are ${JSON.stringify(found)}.`);
    await sleep(20);
  }
}

test('a frame is due once its file has settled, and again when it is written once more', async () => {
  for (const frame of [1, 2]) writeFileSync(at(frame), frameOf(1));
  const [first, second] = await due(1, 2);
  arrivals.settle(first);
  arrivals.settle(second);
  await due();
  expect(arrivals.isOther(first)).toBe(false);
  // Another light, in a file of its own that takes the place of the old one, as renderers do.
  writeFileSync(join(folder, 'other.exr'), frameOf(2.5));
  renameSync(join(folder, 'other.exr'), at(2));
  const [again] = await due(2);
  expect(again.key).not.toBe(second.key);
  expect(arrivals.isOther(second)).toBe(true);
});

test('a file that is still being written is not due before it is whole', async () => {
  const bytes = frameOf(1);
  const parts = 8;
  for (let i = 1; i <= parts; i++) {
    writeFileSync(at(1), bytes.subarray(0, (bytes.length * i) / parts));
    expect(arrivals.due()).toEqual([]);
    await sleep(60);
  }
  await due(1);
});
