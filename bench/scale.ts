import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { ExportRun } from '../api/exports';
import { newFinish } from '../core/finish/edits';
import { writeExr } from '../core/formats/exr/write';
import { buildOf } from '../engine/node/build-id';
import { nodeZlib } from '../engine/node/zlib';

/**
 * `node_modules/.bin/tsx bench/scale.ts [MILLIS] [MEGABYTES]`: how exports grow with machines. 1, 2, 4 and 8 processes take frames of a real server (Next, Redis, MariaDB, HTTP, files), wait as
 * long as a frame takes, and deliver files of a frame's size; then without waiting, for what the server can feed; each with shared storage and without.
 */
const [millis, megabytes] = [Number(process.argv[2] ?? 600), Number(process.argv[3] ?? 6)];
const folder = mkdtempSync(join(tmpdir(), 'zafiro-scale-'));
const [data, frames] = [join(folder, 'data'), join(folder, 'frames')];
mkdirSync(frames, { recursive: true });
const most = 400;

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });

// Twenty channels' worth of noise: nobody reads it but over the network.
const [width, height] = [960, 540];
const samples = Float32Array.from({ length: width * height }, (_, i) => ((i * 2654435761) >>> 0) / 2 ** 32);
const channels = [...'RGBA'].map((name) => ({ name, type: 'float' as const, samples }));
const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
const input = writeExr({ channels, dataWindow, compression: 'none' }, nodeZlib);
for (let f = 1; f <= most; f++) writeFileSync(join(frames, `hall.${String(f).padStart(4, '0')}.exr`), input);

const [port, nodes] = [await freePort(), await freePort()];
const zafiro = spawn('./zafiro', ['start', '--port', String(port), '--nodes', `127.0.0.1:${nodes}`], {
  env: { ...process.env, ZAFIRO_DATA: data, ZAFIRO_MEDIA_ROOTS: frames, ZAFIRO_LOCAL_FRAMES: '0' },
});
await new Promise<void>((ready) =>
  zafiro.stdout.on('data', (d) => String(d).includes('render for it') && ready()),
);
const at = `http://127.0.0.1:${port}`;
const json = async <T>(path: string, body?: unknown): Promise<T> => {
  const response = await fetch(at + path, body ? { method: 'POST', body: JSON.stringify(body) } : undefined);
  if (!response.ok) throw new Error(await response.text());
  return response.json() as Promise<T>;
};
const token = readFileSync(join(data, 'node-token'), 'utf8');
const { shot } = await json<{ shot: number }>('/api/shots', {
  ...{ project: 'Bench', shot: 'hall', media: [{ pattern: join(frames, 'hall.####.exr') }] },
});
const document = newFinish('bare', 'Bare', { type: 'pass', media: 'hall', pass: '' });

/** Frames a second of `count` machines, from the first frame that was done to the last. */
async function rate(
  count: number,
  wait: number,
  bytes: number,
  isShared: boolean,
  wanted: number,
): Promise<number> {
  const machines: ChildProcess[] = [];
  for (let i = 0; i < count; i++) {
    const work = join(folder, `work-${i}`);
    mkdirSync(work, { recursive: true });
    const map = isShared ? `${frames}=${frames}` : `${frames}=/nowhere`;
    const args = ['dist/scale-node.mjs', `http://127.0.0.1:${nodes}`, token, buildOf('dist'), `m${i}`];
    machines.push(
      spawn(process.execPath, [...args, String(wait), String(bytes), work, map], { stdio: 'inherit' }),
    );
  }
  await sleep(1500);
  const body = { shot, document, frames: `1-${wanted}`, format: 'exr', name: 'hall' };
  const { run } = await json<{ run: number }>('/api/exports', body);
  const done: [at: number, count: number][] = [];
  for (;;) {
    const found = (await json<ExportRun[]>(`/api/exports?shot=${shot}`)).find((r) => r.id === run)!;
    const now = found.frames.filter((f) => f.state === 'done').length;
    if (done.at(-1)?.[1] !== now) done.push([performance.now(), now]);
    const failed = found.frames.find((f) => f.state === 'failed');
    if (failed) throw new Error(String(failed.note));
    if (now === wanted) break;
    await sleep(25);
  }
  for (const machine of machines) machine.kill('SIGTERM');
  await Promise.all(machines.map((m) => new Promise((ended) => m.once('exit', ended))));
  rmSync(join(data, 'exports', String(run)), { recursive: true, force: true });
  // Past the beginning, when all take their first frames at once, and before the end, when some have none.
  const [from, to] = [done.find(([, n]) => n >= 2 * count)!, done.findLast(([, n]) => n <= wanted - count)!];
  return (1000 * (to[1] - from[1])) / (to[0] - from[0]);
}

const line = (text: string) => process.stdout.write(`${text}\n`);
const bytes = megabytes * 2 ** 20;
line(
  `A frame takes ${millis} ms and ${megabytes} MB; its files have ${(input.length / 2 ** 20).toFixed(1)} MB.`,
);
for (const isShared of [true, false]) {
  line(isShared ? 'shared storage' : 'files over the network');
  for (const count of [1, 2, 4, 8]) {
    const found = await rate(count, millis, bytes, isShared, Math.min(most, 8 + 20 * count));
    const ideal = (1000 * count) / millis;
    line(
      `  ${count} machines: ${found.toFixed(2)} frames a second, ${((100 * found) / ideal).toFixed(1)} % of linear`,
    );
  }
  for (const [size, name] of [
    [bytes, `${megabytes} MB`],
    [50_000, '50 kB'],
  ] as const) {
    const found = await rate(8, 0, size, isShared, most);
    const all = (size + (isShared ? 0 : input.length)) / 2 ** 20;
    line(
      `  without waiting, ${name} each: ${found.toFixed(1)} frames a second, ${(found * all).toFixed(0)} MB a second`,
    );
  }
}
zafiro.kill('SIGTERM');
await new Promise((ended) => zafiro.once('exit', ended));
rmSync(folder, { recursive: true, force: true });
