import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, expect, test, vi } from 'vitest';
import { PictureCache } from '../../core/evaluate/cache';
import { evaluate } from '../../core/evaluate/run';
import { addStep, linkPass, newFinish } from '../../core/finish/edits';
import { writeExr } from '../../core/formats/exr/write';
import { plainRuntime } from '../../tests/runtime';
import { decodedStore } from './decoded-store';
import { fileSource } from './file-source';
import { nodeZlib } from './zlib';

/** Files of a frame are read once, however many of their passes a finish needs. */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-source-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
afterEach(() => vi.restoreAllMocks());

const [width, height] = [40, 64];
const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
/** ZIP packs 16 rows a chunk. */
const chunks = height / 16;
const names = ['R', 'G', 'B', 'A', 'emission.R', 'emission.G', 'emission.B', 'mask.Y', 'Z'];
const channels = names.map((name, c) => ({
  name,
  type: 'float' as const,
  samples: Float32Array.from({ length: width * height }, (_, i) => ((i * (c + 3)) % 97) / 97),
}));
writeFileSync(join(folder, 'hall.1.exr'), writeExr({ channels, dataWindow }, nodeZlib));

const pass = (name: string) => ({ type: 'pass', media: 'hall', pass: name }) as const;
let finish = newFinish('hall', 'Hall', pass(''));
finish = addStep('main', 0, 'depth-mist', 'mist').apply(finish);
finish = linkPass(finish, 'mist', 'depth', pass('Z'), 'Z', undefined, 'data').apply(finish);
finish = addStep('main', 1, 'bloom', 'bloom').apply(finish);
finish = linkPass(finish, 'bloom', 'light', pass('emission'), 'emission').apply(finish);
finish = linkPass(finish, 'bloom', 'mask', pass('mask'), 'mask', 'luminance').apply(finish);

const media = { hall: { pattern: join(folder, 'hall.#.exr') } };
async function rendered(source: ReturnType<typeof fileSource>): Promise<Float32Array> {
  const runtime = plainRuntime(32);
  const run = { runtime, source, cache: new PictureCache(runtime.arena, 0) };
  const point = { strand: 'main', after: 'end' };
  return evaluate({ finish, point, frame: 1, scale: 1 }, run, ({ data }) => data.slice());
}

test('each chunk of a file is inflated once a frame, whatever number of passes is needed', async () => {
  const inflate = vi.spyOn(nodeZlib, 'inflate');
  const together = await rendered(fileSource(media));
  expect(inflate).toHaveBeenCalledTimes(chunks);
  // One by one the same picture comes out, from four times as much work.
  inflate.mockClear();
  const alone = await rendered({ ...fileSource(media), ahead: undefined });
  expect(inflate).toHaveBeenCalledTimes(4 * chunks);
  expect(alone).toEqual(together);
});

test('a pass that is not there is said by whoever needs it, and keeps nothing else from being read', async () => {
  const source = fileSource(media);
  await source.ahead!(pass('motion'), 1);
  await source.ahead!({ ...pass('Z'), media: 'nowhere' }, 1);
  expect(await source.load(pass('emission'), 1)).toBeTypeOf('function');
  await expect(source.load(pass('motion'), 1)).rejects.toThrow(/has no pass “motion”\. It has: beauty/);
});

test('what was unpacked once is not inflated again, and gives the same picture; what is written over the file is', async () => {
  const decoded = decodedStore({ folder: join(folder, 'decoded'), bytes: 2 ** 24 });
  const inflate = vi.spyOn(nodeZlib, 'inflate');
  const first = await rendered(fileSource(media, { decoded }));
  expect(inflate).toHaveBeenCalledTimes(chunks);
  const kept = () => readdirSync(join(folder, 'decoded'), { recursive: true, encoding: 'utf8' });
  await vi.waitFor(() => expect(kept().filter((f) => /\w{40}$/.test(f))).toHaveLength(4));
  inflate.mockClear();
  expect(await rendered(fileSource(media, { decoded }))).toEqual(first);
  expect(inflate).not.toHaveBeenCalled();
  const brighter = channels.map((c) => ({ ...c, samples: c.samples.map((v) => v * 2) }));
  writeFileSync(join(folder, 'hall.1.exr'), writeExr({ channels: brighter, dataWindow }, nodeZlib));
  expect(await rendered(fileSource(media, { decoded }))).not.toEqual(first);
  expect(inflate).toHaveBeenCalledTimes(chunks);
});
