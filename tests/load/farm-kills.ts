import { linkSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { ExportRun } from '../../api/exports';
import { importShot } from '../browser/small-shot';
import {
  freePort,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
  zafiro,
} from '../server/instance';
import { litFinish, type Machine, startMachine, writeSparks } from './farm';

/**
 * `npx tsx tests/load/farm-kills.ts COUNT FRAMES`: ends server, exports, machines, Redis and MariaDB by kill -9, one at a time, while three machines render an export,
 * and compares every file with those of a run that nobody disturbed. Run by hand: it takes minutes.
 */
const [count, frameCount] = [Number(process.argv[2] ?? 20), Number(process.argv[3] ?? 60)];
const [data, frames, alone] = [temporaryFolder(), temporaryFolder(), temporaryFolder()];
process.env.ZAFIRO_MEDIA_ROOTS = frames;
/** So many are different; the others are the same again under other numbers. */
const different = Math.min(24, frameCount);
const nameOf = (frame: number) => `hall.${String(frame).padStart(4, '0')}.exr`;
const sameAs = (frame: number) => 1 + ((frame - 1) % different);
for (let frame = 1; frame <= frameCount; frame++)
  if (frame <= different) writeSparks(frames, frame);
  else linkSync(join(frames, nameOf(sameAs(frame))), join(frames, nameOf(frame)));
const finish = litFinish();
writeFileSync(join(alone, 'finish.json'), JSON.stringify(finish));
const undisturbed = await zafiro(
  ['run', join(alone, 'finish.json'), '--media', `hall=${frames}/hall.####.exr`].concat(
    ...['--out', join(alone, 'hall.####.exr'), '--without-finish', '--frames', `1-${different}`],
  ),
);
if (undisturbed.code !== 0) throw new Error(undisturbed.err);

const port = await freePort();
const zaf = await startInstance('start', data, ['--nodes', `127.0.0.1:${port}`], {
  ZAFIRO_LOCAL_FRAMES: '1',
});
const token = readFileSync(join(data, 'node-token'), 'utf8');
const machines: Machine[] = [];
const start = (i: number) => {
  const work = join(data, `machine-${i}`);
  mkdirSync(work, { recursive: true });
  machines[i] = startMachine({ server: `http://127.0.0.1:${port}`, token, work }, [
    '--name',
    `m${i}`,
    '--frames',
    '1',
  ]);
};
for (let i = 0; i < 3; i++) start(i);
const shot = await importShot(zaf.address, 'hall', [join(frames, 'hall.####.exr')]);
const body = JSON.stringify({
  ...{ shot, document: finish, frames: `1-${frameCount}`, format: 'exr', name: 'hall', carriesFinish: false },
});
const { run } = await json<{ run: number }>(`${zaf.address}/api/exports`, { method: 'POST', body });
const state = async () =>
  (await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`)).find((r) => r.id === run)!;

const victims: Record<string, RegExp> = {
  database: /mariadbd /,
  redis: /redis-server/,
  server: /next start.*-p \d+ .*|next-server/,
  exports: /dist\/exports\.mjs/,
  renderer: /dist\/render-process\.mjs/,
};
const killed: Record<string, number> = {};
const began = performance.now();
let isOver = false;
for (let i = 0; i < count; ) {
  await sleep(300 + Math.random() * 1500);
  const found = await state().catch(() => undefined);
  if (found?.frames.every((f) => f.state === 'done' || f.state === 'failed')) {
    isOver = true;
    break;
  }
  const which = [...Object.keys(victims), 'machine', 'machine'][
    Math.floor(Math.random() * (Object.keys(victims).length + 2))
  ];
  if (which === 'machine') {
    const m = Math.floor(Math.random() * 3);
    try {
      process.kill(-machines[m].process.pid!, 'SIGKILL');
    } catch {}
    start(m);
  } else {
    const there = processesOf(data).filter((p) => victims[which].test(p.command));
    if (there.length === 0) continue;
    try {
      process.kill(there[Math.floor(Math.random() * there.length)].pid, 'SIGKILL');
    } catch {
      continue;
    }
  }
  killed[which] = (killed[which] ?? 0) + 1;
  i++;
  if (i % 10 === 0)
    process.stderr.write(
      `${i} kills, ${found?.frames.filter((f) => f.state === 'done').length ?? '?'} frames done\n`,
    );
}
for (let i = 0; i < 600; i++) {
  const found = await state().catch(() => undefined);
  if (found?.frames.every((f) => f.state === 'done' || f.state === 'failed')) break;
  await sleep(1000);
}
const seconds = Math.round((performance.now() - began) / 1000);
const end = await state();
await sleep(2000);
const folder = join(data, 'exports', String(run));
const names = readdirSync(folder);
const wrong = end.frames.filter(({ frame }) => {
  const name = nameOf(frame);
  return (
    !names.includes(name) ||
    !readFileSync(join(folder, name)).equals(readFileSync(join(alone, nameOf(sameAs(frame)))))
  );
});
const result = {
  ...{ count, killed, isOver, seconds },
  done: end.frames.filter((f) => f.state === 'done').length,
  failed: end.frames.filter((f) => f.state === 'failed').map((f) => f.note),
  mostTries: Math.max(...end.frames.map((f) => f.tries)),
  different: wrong.map((f) => f.frame),
  left: names.filter((n) => !/^hall\.(\d{4}\.exr|frames\.jsonl)$/.test(n)),
};
process.stdout.write(`${JSON.stringify(result)}\n`);
for (const { process: child } of machines) process.kill(-child.pid!, 'SIGTERM');
await sleep(1000);
await zaf.stop();
for (const each of [data, frames, alone]) remove(each);
process.exit(result.done === frameCount && wrong.length + result.left.length === 0 ? 0 : 1);
