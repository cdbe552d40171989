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
  process.env.ZAFIRO_READ_IDLE_SECONDS = '5';
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

test('a sound file is described', async () => {
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

async function endAll() {
  for (const { pid } of readers()) process.kill(pid, 'SIGKILL');
  await until('the end', async () => readers().length === 0);
}

/** The process that looks, brought to stand still: what it reads next takes for ever. */
async function hold() {
  await endAll();
  await look(sound);
  const [{ pid }] = readers();
  process.kill(pid, 'SIGSTOP');
  return pid;
}

test('a file that never ends is given up after its time, and the next one is read', async () => {
  await hold();
  const stuck = expect(look(sound)).rejects.toThrow(/sound\.png took longer than 2 s to read/);
  const next = look(sound);
  await stuck;
  expect(await next).toMatchObject({ width: 30 });
});

test('what somebody waits for does not wait for a slow file that is only looked at', async () => {
  await hold();
  const slow = look(sound).then(
    () => 'slow',
    () => 'slow',
  );
  const urgent = reader.metadataAt({ path: sound, about: 'Frame 1: ' }).then(() => 'urgent');
  expect(await Promise.race([slow, urgent])).toBe('urgent');
  await slow;
});

test('a question whose asker has left is not read any more', async () => {
  await hold();
  const stuck = look(sound).catch(() => 'over');
  const leaving = new AbortController();
  const left = reader.lookAt({ path: join(folder, 'left.png'), about: '' }, leaving.signal);
  leaving.abort(new Error('left'));
  // At once, and not with what reading a file that is not there would say.
  await expect(left).rejects.toThrow(/^left$/);
  // One that has left before it could ask is not read either.
  const gone = reader.lookAt({ path: join(folder, 'gone.png'), about: '' }, leaving.signal);
  await expect(gone).rejects.toThrow(/^left$/);
  expect(await stuck).toBe('over');
});

test('a file is not blamed for a process that had read others: it is asked again', async () => {
  const pid = await hold();
  const asked = look(sound);
  process.kill(pid, 'SIGKILL');
  expect(await asked).toMatchObject({ width: 30 });
});

test('a file that ends a new process is reported, and the next one is read', async () => {
  await endAll();
  const ended = expect(look(sound)).rejects.toThrow(/sound\.png ended the reading process \(SIGKILL\)/);
  const [{ pid }] = await until('the reader', async () => readers().length > 0 && readers());
  process.kill(pid, 'SIGKILL');
  await ended;
  expect(await look(sound)).toMatchObject({ width: 30 });
});

test('a reader that has nothing to do ends, and its memory with it', async () => {
  await look(sound);
  expect(readers().length).toBeGreaterThan(0);
  await until('their end', async () => readers().length === 0, 20);
  expect(await look(sound)).toMatchObject({ width: 30 });
});
