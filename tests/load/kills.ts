import { setTimeout as sleep } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { importShot, writeFrames } from '../browser/small-shot';
import {
  databaseOf,
  type Instance,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
} from '../server/instance';

/**
 * `npx tsx tests/load/kills.ts COUNT`: ends processes by kill -9 while edits are saved and frames exported, one process or all of them at once, and
 * prints what became of it: no save that was acknowledged may be lost, and no sound frame may fail. Run by hand: it takes hours.
 */
const count = Number(process.argv[2] ?? 20);
const [data, frames] = [temporaryFolder(), temporaryFolder()];
process.env.ZAFIRO_MEDIA_ROOTS = frames;
const bloomed = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' }),
);
const victims: Record<string, RegExp> = {
  database: /mariadbd /,
  server: /next-server|next\/dist\/bin\/next start/,
  exports: /dist\/exports\.mjs/,
  reader: /dist\/reader\.mjs/,
  renderer: /dist\/render-process\.mjs/,
};

let zaf: Instance = await startInstance('start', data);
const shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2, 3, 4])]);
const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
const at = () => `${zaf.address}/api/finishes/${finishes[0].id}`;

const acknowledged = new Map<number, number>();
let [isOver, number, exportsAsked] = [false, 0, 0];

/** One writer: each save goes on from the newest version, and is asked for until it is answered. */
async function write() {
  while (!isOver) {
    try {
      const { version } = await json<SavedFinish>(at());
      const n = ++number;
      const document = setValue(bloomed, 'bloom', 'amount', (n % 1900) / 1000).apply(bloomed);
      const body = JSON.stringify({ from: version, label: `edit ${n}`, save: crypto.randomUUID(), document });
      const saved = await json<{ version: number }>(at(), { method: 'PUT', body });
      acknowledged.set(saved.version, n);
    } catch {
      await sleep(100);
    }
  }
}
async function askForExports() {
  while (!isOver) {
    try {
      const body = JSON.stringify({ shot, document: bloomed, frames: '1-4', format: 'exr', name: 'hall' });
      await json(`${zaf.address}/api/exports`, { method: 'POST', body });
      exportsAsked++;
    } catch {}
    await sleep(3000);
  }
}

const work = [write(), askForExports()];
const killed: Record<string, number> = {};
for (let i = 0; i < count; i++) {
  await sleep(Math.random() * 600);
  const which = ['all', 'all', ...Object.keys(victims), 'renderer', 'renderer'][
    Math.floor(Math.random() * 9)
  ];
  if (which === 'all') {
    await zaf.killAll();
    zaf = await startInstance('start', data);
  } else {
    const found = processesOf(data).filter((p) => victims[which].test(p.command));
    if (found.length === 0) {
      i--;
      continue;
    }
    process.kill(found[Math.floor(Math.random() * found.length)].pid, 'SIGKILL');
  }
  killed[which] = (killed[which] ?? 0) + 1;
  if (i % 50 === 49) process.stderr.write(`${i + 1} kills, ${acknowledged.size} saves\n`);
}
isOver = true;
await Promise.all(work);
// All that was asked for is rendered once nobody is killed any more.
let unfinished: ExportRun[] = [];
for (let i = 0; i < 300; i++) {
  await sleep(1000);
  const runs = await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`).catch(() => undefined);
  if (!runs) continue;
  unfinished = runs.filter((r) => r.frames.some((f) => f.state !== 'done'));
  if (unfinished.every((r) => r.frames.every((f) => !/waiting|rendering/.test(f.state)))) break;
}
const c = await mysql.createConnection(databaseOf(data));
const [versions] = await c.query<mysql.RowDataPacket[]>(
  'SELECT version, edit_label AS label FROM finish_version WHERE finish_id = ?',
  [finishes[0].id],
);
await c.end();
const said = new Map(versions.map((v) => [v.version as number, v.label as string]));
const lost = [...acknowledged].filter(([version, n]) => said.get(version) !== `edit ${n}`);
process.stdout.write(
  `${JSON.stringify({ count, killed, acknowledged: acknowledged.size, lost: lost.length, exportsAsked, unfinished: unfinished.map((r) => r.frames.map((f) => `${f.state} ${f.note ?? ''}`)) })}\n`,
);
await zaf.stop();
for (const folder of [data, frames]) remove(folder);
process.exit(lost.length + unfinished.length > 0 ? 1 : 0);
