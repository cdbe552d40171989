import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { saveOf } from '../browser/page';
import { writeFrames } from '../browser/small-shot';
import { json, processesOf, remove, root, startInstance, temporaryFolder } from '../server/instance';

/**
 * Fifty who look and five who edit, all signed in, for ten minutes: `npx tsx tests/load/people.ts [MINUTES]`. Each who looks follows a shot by its
 * events and reads shelf, shot, finish and pictures every second or two; each who edits saves a finish of their own once a second. Prints how long
 * saves and reads took, and the memory of each process each minute, as JSON lines.
 */
const minutes = Number(process.argv[2] ?? 10);
const [readers, editors] = [50, 5];
const data = temporaryFolder();
const frames = temporaryFolder();
const password = 'a long night in the hall';
const keeper = 'Ada';
const added = spawnSync(join(root, 'zafiro'), ['user', 'add', keeper, '--admin'], {
  input: `${password}\n`,
  encoding: 'utf8',
  env: { ...process.env, ZAFIRO_DATA: data },
});
if (added.status !== 0) throw new Error(added.stderr);
const zaf = await startInstance('start', data, ['--host', '0.0.0.0'], {
  ZAFIRO_CHECK_ANSWERS: '0',
  ZAFIRO_MEDIA_ROOTS: frames,
});
const at = `${zaf.address}/api`;

async function signIn(name: string): Promise<string> {
  const response = await fetch(`${at}/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, password }),
  });
  if (!response.ok) throw new Error(`${name}: ${response.status} ${await response.text()}`);
  return response.headers.get('set-cookie')!.split(';')[0];
}
/** Asks as somebody who is signed in. */
const asker = (cookie: string) => ({
  cookie,
  ask: <T>(path: string, method = 'GET', body?: object | string) =>
    json<T>(at + path, {
      method,
      headers: { cookie, ...(body ? { 'content-type': 'application/json' } : {}) },
      body: typeof body === 'object' ? JSON.stringify(body) : body,
    }),
});
const { ask } = asker(await signIn(keeper));

const { project } = await ask<{ project: number }>('/projects', 'POST', { name: 'Load' });
await ask(`/projects/${project}/roots`, 'PUT', { roots: [frames] });
const people: ReturnType<typeof asker>[] = [];
for (let i = 0; i < editors + readers; i++) {
  const name = `Hand ${i}`;
  await ask('/people', 'POST', { name, password });
  const account = (await ask<{ id: number; name: string }[]>('/people')).find((p) => p.name === name)!.id;
  await ask(`/projects/${project}/members`, 'PUT', { account, role: i < editors ? 'edit' : 'look' });
  people.push(asker(await signIn(name)));
}

const shots: { shot: number; finish: number; media: number; content: string }[] = [];
for (let i = 0; i < editors; i++) {
  const pattern = writeFrames(join(frames, `s${i}`), 'hall', [1, 2, 3, 4]);
  const { shot } = await ask<{ shot: number }>('/shots', 'POST', {
    project: 'Load',
    shot: `Shot ${i}`,
    media: [{ pattern }],
  });
  const found = await ask<{
    finishes: { id: number }[];
    media: { id: number; frames: { frame: number; content: string }[] }[];
  }>(`/shots/${shot}`);
  const [media] = found.media;
  shots.push({
    shot,
    finish: found.finishes[0].id,
    media: media.id,
    content: media.frames[0]?.content ?? '',
  });
}

const times = { saves: [] as number[], reads: [] as number[] };
let failures = 0;
const end = performance.now() + minutes * 60_000;
const going = () => performance.now() < end;
const timed = async (into: number[], work: () => Promise<unknown>) => {
  const began = performance.now();
  try {
    await work();
    into.push(performance.now() - began);
  } catch (error) {
    failures++;
    if (failures < 5) console.error(String(error));
  }
};

async function edit(n: number) {
  const { finish } = shots[n];
  const { ask } = people[n];
  let version = (await ask<{ version: number }>(`/finishes/${finish}`)).version;
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  for (let i = 0; i < 8; i++) doc = addStep('main', i, 'bloom', `bloom-${i}`).apply(doc);
  while (going()) {
    doc = setValue(doc, 'bloom-0', 'amount', 1 + (version % 10) / 10, 1).apply(doc);
    const body = saveOf(version, doc, `edit ${version}`);
    await timed(times.saves, async () => {
      ({ version } = await ask<{ version: number }>(`/finishes/${finish}`, 'PUT', body));
    });
    await sleep(700 + Math.random() * 600);
  }
}

async function look(n: number) {
  const { shot, finish, media, content } = shots[n % shots.length];
  const headers = { cookie: people[editors + n].cookie };
  const left = new AbortController();
  fetch(`${at}/shots/${shot}/events`, { headers, signal: left.signal })
    .then(async (response) => {
      for await (const _ of response.body!) if (!going()) break;
    })
    .catch(() => {});
  const paths = [
    '/shelf',
    `/shots/${shot}`,
    `/finishes/${finish}`,
    `/finishes/${finish}/versions`,
    `/media/${media}/frames/1/pass`,
    `/media/${media}/frames/1/small-picture?content=${content}`,
    '/queue',
  ];
  for (let i = n; going(); i++) {
    await timed(times.reads, async () => {
      const response = await fetch(at + paths[i % paths.length], { headers });
      await response.arrayBuffer();
      if (!response.ok) throw new Error(`${paths[i % paths.length]}: ${response.status}`);
    });
    await sleep(1000 + Math.random() * 1000);
  }
  left.abort();
}

const quantile = (values: readonly number[], q: number) =>
  Math.round([...values].sort((a, b) => a - b)[Math.floor(values.length * q)] ?? 0);
const memory = () =>
  Object.fromEntries(
    processesOf(data).map(({ pid, command }) => {
      const name =
        /mariadbd|redis|next|exports|serve|reader|render/.exec(command)?.[0] ?? command.slice(0, 20);
      const rss = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
      return [`${name} ${pid}`, Math.round(Number(rss) / 1024)];
    }),
  );
const say = (minute: number) =>
  console.log(
    JSON.stringify({
      minute,
      saves: times.saves.length,
      save50: quantile(times.saves, 0.5),
      save95: quantile(times.saves, 0.95),
      saveMost: quantile(times.saves, 0.9999),
      reads: times.reads.length,
      read95: quantile(times.reads, 0.95),
      failures,
      megabytes: memory(),
    }),
  );

const all = [
  ...Array.from({ length: editors }, (_, n) => edit(n)),
  ...Array.from({ length: readers }, (_, n) => look(n)),
];
for (let minute = 1; going(); minute++) {
  await sleep(Math.min(60_000, Math.max(0, end - performance.now())));
  say(minute);
}
await Promise.all(all);
await zaf.stop();
for (const folder of [data, frames]) remove(folder);
