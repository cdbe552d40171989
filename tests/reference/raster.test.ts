import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { openFile } from '../../engine/node/files/open';

/** Samples of PNG, TIFF, JPEG and Radiance files against OpenImageIO (Debian's python3-openimageio). */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-raster-'));
const made = spawnSync(
  '/usr/bin/python3',
  [new URL('./raster-corpus.py', import.meta.url).pathname, folder],
  {
    encoding: 'utf8',
  },
);
if (made.status !== 0) throw new Error(`The corpus could not be made: ${made.stderr}`);
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const names: string[] = JSON.parse(readFileSync(join(folder, 'names.json'), 'utf8'));
const arrays = { uint8: Uint8Array, uint16: Uint16Array, float: Float32Array } as const;

test.each(names)('%s', async (name) => {
  const found = JSON.parse(readFileSync(join(folder, `${name}.json`), 'utf8'));
  const raw = readFileSync(join(folder, `${name}.bin`));
  const Samples = arrays[found.type as keyof typeof arrays];
  const theirs = new Samples(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
  const file = await openFile(readFileSync(join(folder, name)));
  const [part] = file.info.parts;
  expect(part.channels.map((c) => c.type)).toEqual(new Array(found.channels).fill(found.type));
  expect([part.dataWindow.xMax + 1, part.dataWindow.yMax + 1]).toEqual([found.width, found.height]);
  const { planes, lacking } = await file.read(
    0,
    part.channels.map((c) => c.name),
  );
  expect(lacking).toBeUndefined();
  part.channels.forEach(({ name: channel }, c) => {
    const ours = planes.get(channel)!;
    // Two decoders of JPEG may round their transforms differently by one code (ITU-T T.83 allows it).
    const tolerance = name.endsWith('.jpg') ? 1 : 0;
    let worst = 0;
    for (const [i, v] of ours.entries())
      worst = Math.max(worst, Math.abs(v - theirs[i * found.channels + c]));
    expect(worst, `channel ${channel}`).toBeLessThanOrEqual(tolerance);
  });
});

test('what is grey has Y, what has alpha has A, and straight colour is multiplied on the way in', async () => {
  const channels = async (name: string) => {
    const file = await openFile(readFileSync(join(folder, name)));
    return [
      file.info.parts[0].channels.map((c) => c.name).join(''),
      file.colourOf(file.info.passes[0]).straight,
    ];
  };
  expect(await channels('uint8-1.png')).toEqual(['Y', false]);
  expect(await channels('uint16-2.png')).toEqual(['YA', true]);
  expect(await channels('uint8-4.png')).toEqual(['RGBA', true]);
  expect(await channels('float-4.tif')).toEqual(['RGBA', true]);
  expect(await channels('double-1.tif')).toEqual(['Y', false]);
  expect(await channels('double-4.tif')).toEqual(['RGBA', true]);
});
