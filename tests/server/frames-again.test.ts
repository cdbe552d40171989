import { type ChildProcess, spawn } from 'node:child_process';
import {
  appendFileSync,
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import { toggleKey } from '../../core/finish/key-edits';
import { setValue } from '../../core/finish/value-edits';
import { readExr } from '../../core/formats/exr/read';
import { writeExr } from '../../core/formats/exr/write';
import { nodeZlib } from '../../engine/node/zlib';
import { remove, root, temporaryFolder, until, zafiro } from './instance';

/** Frames that are rendered again only where something changed, and those that come while one waits. */
const folder = temporaryFolder();
const children: ChildProcess[] = [];
afterAll(() => {
  for (const child of children) child.kill('SIGKILL');
  remove(folder);
});

const [width, height] = [64, 36];
const frameBytes = (value: number) =>
  writeExr(
    {
      channels: [...'RGBA'].map((name) => ({
        name,
        type: 'float' as const,
        samples: new Float32Array(width * height).fill(name === 'A' ? 1 : value),
      })),
      dataWindow: { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 },
      compression: 'none',
    },
    nodeZlib,
  );
const source = (name: string, frame: number) => join(folder, `${name}.${String(frame).padStart(4, '0')}.exr`);
const greenOf = (path: string) => readExr(readFileSync(path), nodeZlib).samples.get('G')![width * 18 + 32];

const gained = addStep('main', 0, 'gain', 'gain').apply(
  newFinish('finish', 'Gain', { type: 'pass', media: 'hall', pass: '' }),
);
const finishFile = (name: string, doc: unknown) => {
  const path = join(folder, name);
  writeFileSync(path, JSON.stringify(doc));
  return path;
};

test('frames that are right stay, those that lack, were damaged or whose inputs or values changed are rendered', async () => {
  for (const frame of [1, 2, 3, 4, 5]) writeFileSync(source('hall', frame), frameBytes(frame / 8));
  const finish = finishFile('a.json', gained);
  const out = join(folder, 'out', 'a.####.exr');
  const at = (frame: number) => out.replace('####', String(frame).padStart(4, '0'));
  const render = async (file: string, ...more: string[]) => {
    const {
      code,
      out: said,
      err,
    } = await zafiro(
      ['run', file, '--media', `hall=${folder}/hall.####.exr`, '--out', out, '--format', 'exr32', ...more],
      {},
      folder,
    );
    if (code !== 0) throw new Error(err);
    const lines = said.split('\n').filter((l) => l.startsWith('frame'));
    return lines.filter((l) => !l.includes('right already')).map((l) => Number(/frame (\d+)/.exec(l)![1]));
  };
  expect(await render(finish)).toEqual([1, 2, 3, 4, 5]);
  const digests = () => [1, 2, 3, 4, 5].map((f) => readFileSync(at(f)).toString('base64'));
  const first = digests();
  expect(await render(finish)).toEqual([]);
  // One is gone, one is half there; one has as many bytes as before, but others.
  renameSync(at(2), `${at(2)}.away`);
  writeFileSync(at(3), readFileSync(at(3)).subarray(0, 900));
  const bytes = readFileSync(at(4));
  bytes[bytes.length - 9] ^= 1;
  writeFileSync(at(4), bytes);
  expect(await render(finish)).toEqual([2, 3]);
  expect(await render(finish, '--check')).toEqual([4]);
  expect(digests()).toEqual(first);
  // A torn line of the record is no harm, and costs no other frame.
  appendFileSync(join(folder, 'out', 'a.frames.jsonl'), '\n{"frame":5,"key":"12');
  expect(await render(finish)).toEqual([]);
  // The renderer writes a frame anew.
  writeFileSync(source('hall', 5), frameBytes(0.75));
  expect(await render(finish)).toEqual([5]);
  // One key of three is changed: only the frames between its neighbours are rendered.
  const key = (doc: typeof gained, frame: number, value: number) =>
    setValue(doc, 'gain', 'stops', value, frame).apply(doc);
  const keyed = key(key(toggleKey(gained, 'gain', 'stops', 1).apply(gained), 3, 2), 5, 1);
  // The first frame's value is what it was without keys.
  expect(await render(finishFile('b.json', keyed))).toEqual([2, 3, 4, 5]);
  expect(await render(finishFile('c.json', key(keyed, 5, 3)))).toEqual([4, 5]);
  expect(await render(finishFile('c.json', key(keyed, 5, 3)), '--all')).toEqual([1, 2, 3, 4, 5]);
  // Written otherwise.
  expect(await render(finishFile('c.json', key(keyed, 5, 3)), '--compression', 'rle')).toHaveLength(5);
  expect(readdirSync(join(folder, 'out')).filter((n) => n.endsWith('.part'))).toEqual([]);
});

test('a run that is ended by kill -9 goes on where it was', async () => {
  for (let frame = 1; frame <= 60; frame++) writeFileSync(source('long', frame), frameBytes(frame / 64));
  const finish = finishFile('d.json', gained);
  const args = [
    'run',
    finish,
    '--media',
    `hall=${folder}/long.####.exr`,
    '--out',
    join(folder, 'long', 'a.####.exr'),
  ];
  const child = spawn(join(root, 'zafiro'), args, { cwd: folder, detached: true });
  children.push(child);
  const lines: string[] = [];
  child.stdout.on('data', (d) => {
    lines.push(...String(d).split('\n').filter(Boolean));
    if (lines.length >= 3) process.kill(-child.pid!, 'SIGKILL');
  });
  expect(await new Promise((ended) => child.once('close', (_, signal) => ended(signal)))).toBe('SIGKILL');
  const { code, out } = await zafiro(args, {}, folder);
  expect(code).toBe(0);
  expect(out.match(/right already/g)!.length).toBeGreaterThanOrEqual(3);
  expect(readdirSync(join(folder, 'long')).filter((n) => n.endsWith('.exr'))).toHaveLength(60);
});

test('watch finishes frames as they come: written slowly in place, under another name, and anew', async () => {
  const finish = finishFile('e.json', setValue(gained, 'gain', 'stops', 1).apply(gained));
  const out = join(folder, 'watched', 'w.####.exr');
  const at = (frame: number) => out.replace('####', String(frame).padStart(4, '0'));
  writeFileSync(source('slow', 1), frameBytes(0.25));
  const child = spawn(
    join(root, 'zafiro'),
    ['watch', finish, '--media', `hall=${folder}/slow.####.exr`, '--out', out, '--format', 'exr32'],
    { cwd: folder },
  );
  children.push(child);
  let [said, complained] = ['', ''];
  child.stdout.on('data', (d) => (said += d));
  child.stderr.on('data', (d) => (complained += d));
  await until('frame 1', async () => existsSync(at(1)) && greenOf(at(1)) === 0.5);

  // In place, in four pieces, with pauses that are shorter and longer than a file needs to settle.
  const bytes = frameBytes(0.375);
  writeFileSync(source('slow', 2), bytes.subarray(0, 300));
  for (const [i, pause] of [200, 900, 300].entries()) {
    await sleep(pause);
    appendFileSync(
      source('slow', 2),
      bytes.subarray(300 + i * 5000, i === 2 ? undefined : 300 + (i + 1) * 5000),
    );
    if (i < 2) expect(existsSync(at(2))).toBe(false);
  }
  // Under another name, then renamed.
  writeFileSync(join(folder, 'slow.0003.exr.tmp'), frameBytes(0.5));
  await sleep(100);
  renameSync(join(folder, 'slow.0003.exr.tmp'), source('slow', 3));
  await until('frames 2 and 3', async () => existsSync(at(2)) && existsSync(at(3)));
  expect([greenOf(at(2)), greenOf(at(3))]).toEqual([0.75, 1]);

  // Anew: the first alone.
  const stamps = [1, 2, 3].map((f) => statSync(at(f)).mtimeMs);
  writeFileSync(source('slow', 1), frameBytes(2));
  await until('frame 1 anew', async () => greenOf(at(1)) === 4);
  expect([2, 3].map((f) => statSync(at(f)).mtimeMs)).toEqual(stamps.slice(1));

  // What stays half is named once, and finished when it is whole.
  writeFileSync(source('slow', 4), bytes.subarray(0, 4000));
  await until('its name', async () => complained.includes('slow.0004.exr'));
  writeFileSync(source('slow', 4), bytes);
  await until('frame 4', async () => existsSync(at(4)));

  child.kill('SIGINT');
  expect(await new Promise((ended) => child.once('exit', ended))).toBe(0);
  expect(said).toMatch(/Watching/);
  expect(readdirSync(join(folder, 'watched')).sort()).toEqual([
    'w.0001.exr',
    'w.0002.exr',
    'w.0003.exr',
    'w.0004.exr',
    'w.frames.jsonl',
  ]);
});
