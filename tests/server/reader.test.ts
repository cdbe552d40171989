import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type * as Reader from '../../server/media/reader/reader';
import { processesOf, remove, root, temporaryFolder, until } from './instance';

/** Files are read in a process of its own: one that hangs or kills it takes nothing else down. */
const folder = temporaryFolder();
const sound = join(folder, 'sound.png');
let reader: typeof Reader;

beforeAll(async () => {
  process.chdir(root);
  process.env.ZAFIRO_READ_SECONDS = '2';
  // Marks the reader's process, so that the test can find it.
  process.env.ZAFIRO_DATA = folder;
  reader = await import('../../server/media/reader/reader');
  writeFileSync(
    sound,
    await sharp({ create: { width: 30, height: 20, channels: 3, background: 'red' } })
      .png()
      .toBuffer(),
  );
});

afterAll(() => {
  reader.endReader();
  remove(folder);
});

const look = (path: string) => reader.lookAt({ path, about: 'Frame 1: ' });
const readers = () => processesOf(folder).filter((p) => p.command.includes('reader.mjs'));

test('a sound file is told', async () => {
  expect(await look(sound)).toMatchObject({
    format: 'png',
    width: 30,
    height: 20,
    passes: [{ kind: 'picture' }],
  });
  expect(readers()).toHaveLength(1);
});

test('a broken file is refused in words, and the reader goes on', async () => {
  const broken = join(folder, 'broken.exr');
  writeFileSync(broken, 'v/1\x01hello');
  await expect(look(broken)).rejects.toThrow(/Frame 1: .*broken\.exr: /);
  expect(await look(sound)).toMatchObject({ width: 30 });
});

test('a file that never ends is given up after its time, and the next one is read', async () => {
  const pipe = join(folder, 'pipe.exr');
  spawnSync('mkfifo', [pipe]);
  const stuck = expect(look(pipe)).rejects.toThrow(/pipe\.exr took longer than 2 s to read/);
  const next = look(sound);
  await stuck;
  expect(await next).toMatchObject({ width: 30 });
});

test('a reader that is killed is started again, and its question is answered with an error', async () => {
  const pipe = join(folder, 'second.exr');
  spawnSync('mkfifo', [pipe]);
  const killed = expect(look(pipe)).rejects.toThrow(/second\.exr ended the reading process \(SIGKILL\)/);
  const [{ pid }] = await until('the reader', async () => readers().length > 0 && readers());
  process.kill(pid, 'SIGKILL');
  await killed;
  expect(await look(sound)).toMatchObject({ width: 30 });
});
