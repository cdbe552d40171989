import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, symlinkSync } from 'node:fs';
import { connect } from 'node:net';
import { dirname, join } from 'node:path';
import mysql from 'mysql2/promise';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addressOf } from '../../api/contract';
import { allRoutes } from '../../api/routes';
import { newFinish } from '../../core/finish/edits';
import { ruleOf } from '../../server/access/policy';
import { writeFrames } from '../browser/small-shot';
import { databaseOf, type Instance, remove, root, startInstance, temporaryFolder, zafiro } from './instance';

/** A server that others can reach: each wall with a request that must fail and one that must not. */
const data = temporaryFolder();
const frames = temporaryFolder();
const other = temporaryFolder();
let zaf: Instance;
let db: mysql.Connection;

const passwords = {
  Ada: 'a long night in the hall',
  Mina: 'moths around a lantern',
  Edda: 'embers under the dome',
  Lou: 'look but do not touch',
  Nils: 'nothing to see in here',
};
type Name = keyof typeof passwords;
const cookies = {} as Record<Name, string>;

type Init = { method?: string; body?: unknown; as?: Name; headers?: Record<string, string> };
function ask(path: string, { method = 'GET', body, as, headers = {} }: Init = {}): Promise<Response> {
  return fetch(`${zaf.address}${path}`, {
    method,
    redirect: 'manual',
    headers: {
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...(as ? { cookie: cookies[as] } : {}),
      ...headers,
    },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
}
const statusOf = async (path: string, init?: Init) => (await ask(path, init)).status;
const jsonOf = async <T>(path: string, init?: Init) => {
  const response = await ask(path, init);
  expect(response.status, `${path}: ${await response.clone().text()}`).toBe(200);
  return (await response.json()) as T;
};
const cookieIn = (response: Response) => response.headers.get('set-cookie')?.split(';')[0] ?? '';
async function signIn(name: Name, more: object = {}) {
  const response = await ask('/api/sign-in', {
    method: 'POST',
    body: { name, password: passwords[name], ...more },
  });
  if (response.ok) cookies[name] = cookieIn(response);
  return response;
}
const env = {
  ZAFIRO_DATA: data,
  // The folder that the data folder lies in too, as a home folder is by default.
  ZAFIRO_MEDIA_ROOTS: `${frames}:${other}:${dirname(data)}`,
  ZAFIRO_EXPORT_ROOTS: `${frames}:${dirname(data)}`,
  ZAFIRO_UPLOAD_GIGABYTES: '0.000001',
};
const start = (env_ = env) => startInstance('start', data, ['--host', '0.0.0.0'], env_);
const users = (...args: string[]) =>
  spawnSync(join(root, 'zafiro'), ['user', ...args], {
    input: `${passwords[args[1] as Name] ?? ''}\n`,
    encoding: 'utf8',
    env: { ...process.env, ZAFIRO_DATA: data },
  });

/** The project of Mina, who manages it, with a shot; and one of which only Ada knows. */
const theirs = { project: 0, shot: 0, finish: 0, media: 0 };
const hidden = { project: 0, shot: 0, finish: 0, media: 0, run: 0, reference: 0 };

beforeAll(async () => {
  mkdirSync(join(frames, 'inner'), { recursive: true });
  writeFrames(frames, 'hall', [1, 2]);
  writeFrames(other, 'hall', [1, 2]);
});
afterAll(async () => {
  await db?.end();
  await zaf?.stop();
  for (const folder of [data, frames, other]) remove(folder);
});

test('it does not start for others until there is an administrator, and says how to make one', async () => {
  const refused = await zafiro(['start', '--host', '0.0.0.0', '--port', '0'].slice(0, 3), env);
  expect(refused.code).toBe(1);
  expect(refused.err).toContain('./zafiro user add NAME --admin');
  expect(users('add', 'Ada', '--admin').status).toBe(0);
  const short = spawnSync(join(root, 'zafiro'), ['user', 'add', 'Bo'], {
    input: 'short\n',
    encoding: 'utf8',
    env: { ...process.env, ZAFIRO_DATA: data },
  });
  expect(short.status).toBe(1);
  expect(short.stderr).toContain('at least 12 letters');
  zaf = await start();
  db = await mysql.createConnection(databaseOf(data));
});

test('while it runs, accounts are made from the command line and by the administrator', async () => {
  expect(users('add', 'Mina').status).toBe(0);
  expect(users('add', 'Mina').stderr).toContain('already');
  expect((await signIn('Ada')).status).toBe(200);
  for (const name of ['Edda', 'Lou', 'Nils'] as const)
    await jsonOf('/api/people', { method: 'POST', as: 'Ada', body: { name, password: passwords[name] } });
  for (const name of ['Mina', 'Edda', 'Lou', 'Nils'] as const) expect((await signIn(name)).status).toBe(200);
  const [found] = await db.query<mysql.RowDataPacket[]>('SELECT password_hash FROM account');
  for (const { password_hash } of found)
    expect(password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
});

test('projects, shots and roles for what follows', async () => {
  const make = async (as: Name, project: string, folder: string) => {
    const { project: id } = await jsonOf<{ project: number }>('/api/projects', {
      method: 'POST',
      as,
      body: { name: project },
    });
    // Until an administrator gives it folders, a project reads none of the server's.
    const taken = { project, shot: 'Hall', media: [{ pattern: join(folder, 'hall.####.exr') }] };
    if (as !== 'Ada') expect(await statusOf('/api/shots', { method: 'POST', as, body: taken })).toBe(422);
    await jsonOf(`/api/projects/${id}/roots`, { method: 'PUT', as: 'Ada', body: { roots: [folder] } });
    const { shot } = await jsonOf<{ shot: number }>('/api/shots', {
      method: 'POST',
      as,
      body: taken,
    });
    const detail = await jsonOf<{ finishes: { id: number }[]; media: { id: number }[] }>(
      `/api/shots/${shot}`,
      {
        as,
      },
    );
    return { project: id, shot, finish: detail.finishes[0].id, media: detail.media[0].id };
  };
  Object.assign(theirs, await make('Mina', 'Orrery', frames));
  Object.assign(hidden, await make('Ada', 'Secret', other));
  const people = await jsonOf<{ id: number; name: string }[]>('/api/people', { as: 'Ada' });
  const idOf = (name: Name) => people.find((p) => p.name === name)!.id;
  for (const [name, role] of [
    ['Edda', 'edit'],
    ['Lou', 'look'],
  ] as const)
    await jsonOf(`/api/projects/${theirs.project}/members`, {
      method: 'PUT',
      as: 'Mina',
      body: { account: idOf(name), role },
    });
  const document = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  const { run } = await jsonOf<{ run: number }>('/api/exports', {
    method: 'POST',
    as: 'Ada',
    body: { shot: hidden.shot, document, frames: '1', format: 'exr', name: 'hall' },
  });
  const [made] = await db.query<mysql.ResultSetHeader>(
    "INSERT INTO reference_picture (shot_id, name, width, height, picture) VALUES (?, 'x', 1, 1, 'x')",
    [hidden.shot],
  );
  Object.assign(hidden, { run, reference: made.insertId });
});

describe('sessions', () => {
  /** Those of machines are let in by a token of their own: `tokens: …` and `nodes.test.ts`. */
  const contracts = allRoutes.filter((r) => ruleOf(r)?.right !== 'node');

  test('each route says who may ask it', () => {
    expect(contracts.length).toBeGreaterThan(70);
    for (const route of contracts) expect(ruleOf(route), `${route.method} ${route.path}`).toBeDefined();
    const open = contracts.filter((r) => ruleOf(r)!.right === 'open').map((r) => `${r.method} ${r.path}`);
    expect(open.sort()).toEqual(['GET /api/health', 'POST /api/sign-in']);
    // What changes something of a project or an account is put down.
    const quiet = contracts.filter((r) => r.method !== 'GET' && !ruleOf(r)!.does).map((r) => r.path);
    expect([...new Set(quiet)].sort()).toEqual([
      '/api/exports/places',
      '/api/finishes/:finish/poster',
      '/api/shots/:shot/opened',
      '/api/sign-in',
      '/api/uploads',
      '/api/uploads/:upload/:name*',
    ]);
  });

  test('without one every route but those answers 401, and every page leads to where one signs in', async () => {
    for (const route of contracts) {
      if (ruleOf(route)!.right === 'open') continue;
      const params = Object.fromEntries(Object.keys(route.params).map((key) => [key, '1']));
      const status = await statusOf(addressOf(route, { params }), { method: route.method });
      expect(status, `${route.method} ${route.path}`).toBe(401);
    }
    for (const path of [
      '/',
      '/import',
      '/queue',
      '/recipes',
      '/sheet',
      '/machines',
      '/account',
      '/people',
      '/record',
      `/shots/${theirs.shot}`,
    ]) {
      const response = await ask(path);
      const body = await response.text();
      const to = response.headers.get('location') ?? /url=([^"]+)"/.exec(body)?.[1] ?? body;
      expect(to, path).toContain('/sign-in');
      expect(body, path).not.toContain('Orrery');
    }
    expect(await statusOf('/api/health')).toBe(200);
    expect(await statusOf('/sign-in')).toBe(200);
  });

  test('a wrong password and a name that is not there are refused alike', async () => {
    const wrong = await ask('/api/sign-in', { method: 'POST', body: { name: 'Ada', password: 'wrong' } });
    const nobody = await ask('/api/sign-in', { method: 'POST', body: { name: 'Zoe', password: 'wrong' } });
    expect([wrong.status, nobody.status]).toEqual([403, 403]);
    expect(await wrong.text()).toBe(await nobody.text());
    expect(wrong.headers.get('set-cookie')).toBeNull();
  });

  test('a cookie that scripts cannot read and other sites do not send; a made up one is nothing', async () => {
    const cookie = (await signIn('Ada')).headers.get('set-cookie')!;
    expect(cookie).toMatch(/^zafiro-session=[\w-]{43}; Path=\/; HttpOnly; SameSite=Lax; Max-Age=2592000$/);
    expect(await statusOf('/api/shelf', { headers: { cookie: `zafiro-session=${'A'.repeat(43)}` } })).toBe(
      401,
    );
    // What the browser held before is over: no session is taken over by signing in.
    const held = cookies.Ada;
    const next = await ask('/api/sign-in', {
      method: 'POST',
      body: { name: 'Ada', password: passwords.Ada },
      headers: { cookie: held },
    });
    cookies.Ada = cookieIn(next);
    expect(await statusOf('/api/shelf', { headers: { cookie: held } })).toBe(401);
    expect(await statusOf('/api/shelf', { as: 'Ada' })).toBe(200);
    const [rows] = await db.query<mysql.RowDataPacket[]>('SELECT hash FROM session');
    expect(rows.map((r) => r.hash)).not.toContain(cookie.split(/[=;]/)[1]);
  });

  test('a session gets another secret after a while; the former one counts for a moment', async () => {
    await signIn('Nils');
    const before = cookies.Nils;
    await db.query(
      "UPDATE session SET rotated_at = NOW(3) - INTERVAL 13 HOUR WHERE account_id = (SELECT id FROM account WHERE name = 'Nils')",
    );
    const [one, two] = await Promise.all([
      ask('/api/shelf', { as: 'Nils' }),
      ask('/api/shelf', { as: 'Nils' }),
    ]);
    expect([one.status, two.status]).toEqual([200, 200]);
    const next = cookieIn(one) || cookieIn(two);
    expect(next).not.toBe('');
    expect(next).not.toBe(before);
    expect(await statusOf('/api/shelf', { headers: { cookie: next } })).toBe(200);
    expect(await statusOf('/api/shelf', { headers: { cookie: before } })).toBe(200);
    await db.query('UPDATE session SET rotated_at = rotated_at - INTERVAL 2 MINUTE');
    expect(await statusOf('/api/shelf', { headers: { cookie: before } })).toBe(401);
    expect(await statusOf('/api/shelf', { headers: { cookie: next } })).toBe(200);
    cookies.Nils = next;
  });

  test('one that nobody used for a week, or that is a month old, is over', async () => {
    for (const column of ['seen_at', 'created_at']) {
      await signIn('Nils');
      expect(await statusOf('/api/shelf', { as: 'Nils' })).toBe(200);
      await db.query(`UPDATE session SET ${column} = NOW(3) - INTERVAL 31 DAY WHERE hash = SHA2(?, 256)`, [
        cookies.Nils.split('=')[1],
      ]);
      expect(await statusOf('/api/shelf', { as: 'Nils' }), column).toBe(401);
    }
  });

  test('signed out here, everywhere, and by another password', async () => {
    await signIn('Nils');
    const first = cookies.Nils;
    await signIn('Nils');
    expect(await statusOf('/api/sign-out', { method: 'POST', as: 'Nils', body: {} })).toBe(200);
    expect(await statusOf('/api/shelf', { as: 'Nils' })).toBe(401);
    expect(await statusOf('/api/shelf', { headers: { cookie: first } })).toBe(200);
    await signIn('Nils');
    expect(await statusOf('/api/sign-out', { method: 'POST', as: 'Nils', body: { everywhere: true } })).toBe(
      200,
    );
    expect(await statusOf('/api/shelf', { headers: { cookie: first } })).toBe(401);
    await signIn('Nils');
    const before = cookies.Nils;
    const change = (now: string, next: string) =>
      ask('/api/account/password', { method: 'PUT', as: 'Nils', body: { now, next } });
    expect((await change('wrong', 'another long password')).status).toBe(403);
    expect((await change(passwords.Nils, 'short')).status).toBe(422);
    const changed = await change(passwords.Nils, 'another long password');
    expect(changed.status).toBe(200);
    passwords.Nils = 'another long password';
    expect(await statusOf('/api/shelf', { headers: { cookie: before } })).toBe(401);
    expect(await statusOf('/api/shelf', { headers: { cookie: cookieIn(changed) } })).toBe(200);
    cookies.Nils = cookieIn(changed);
  });

  test('who is signed in has as few tries to guess a password; those that succeed count for nothing', async () => {
    const change = (now: string) =>
      statusOf('/api/account/password', {
        method: 'PUT',
        as: 'Edda',
        body: { now, next: 'a longer password' },
      });
    const found = [];
    for (let i = 0; i < 11; i++) found.push(await change(`wrong ${i}`));
    expect(found).toEqual([...Array(10).fill(403), 429]);
    // An office of sixty behind one address.
    for (let i = 0; i < 60; i++) expect((await signIn('Mina')).status).toBe(200);
  });

  test('after ten wrong tries the right password waits too, for this account alone', async () => {
    for (let i = 0; i < 10; i++)
      await ask('/api/sign-in', {
        method: 'POST',
        body: { name: ['nils', 'NILS', 'Nîls'][i % 3], password: `wrong ${i}` },
      });
    const late = await signIn('Nils');
    expect(late.status).toBe(429);
    expect(await late.text()).toMatch(/too many tries.*Try again in \d+ (minutes|seconds)/);
    expect((await signIn('Lou')).status).toBe(200);
  });

  test('a second factor: asked for, a code counts once, and a wrong one does not', async () => {
    const begun = await jsonOf<{ secret: string; svg: string }>('/api/account/second-factor', {
      method: 'POST',
      as: 'Lou',
      body: { password: passwords.Lou },
    });
    expect(begun.svg).toContain('<svg');
    const totp = new TOTP({ secret: Secret.fromBase32(begun.secret), digits: 6, period: 30 });
    const at = (steps: number) => totp.generate({ timestamp: Date.now() + steps * 30_000 });
    const confirm = (code: string) =>
      statusOf('/api/account/second-factor', { method: 'PUT', as: 'Lou', body: { code } });
    expect(await confirm('000000' === at(0) ? '000001' : '000000')).toBe(422);
    // Not confirmed, it is not asked for.
    expect(await (await signIn('Lou')).json()).toEqual({});
    expect(await confirm(at(-1))).toBe(200);
    expect(await (await signIn('Lou')).json()).toEqual({ needs: 'code' });
    expect((await signIn('Lou', { code: at(-1) })).status).toBe(403);
    const code = at(0);
    expect((await signIn('Lou', { code })).status).toBe(200);
    expect((await signIn('Lou', { code })).status).toBe(403);
    expect(
      await statusOf('/api/account/second-factor/end', {
        method: 'POST',
        as: 'Lou',
        body: { password: 'wrong' },
      }),
    ).toBe(403);
    expect(
      await statusOf('/api/account/second-factor/end', {
        method: 'POST',
        as: 'Lou',
        body: { password: passwords.Lou },
      }),
    ).toBe(200);
    expect(await (await signIn('Lou')).json()).toEqual({});
  });
});

describe('roles', () => {
  const save = (as: Name | undefined, finish: number, headers = {}) =>
    ask(`/api/finishes/${finish}`, {
      method: 'PUT',
      as,
      headers,
      body: {
        from: 1,
        document: newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' }),
        label: 'test',
        save: crypto.randomUUID(),
      },
    });

  test('to look, to edit, to manage; and nobody else sees that it is there', async () => {
    const { project, shot, finish, media } = theirs;
    const asked: [string, Init, Partial<Record<Name, number>>][] = [
      [`/api/shots/${shot}`, {}, { Mina: 200, Edda: 200, Lou: 200, Nils: 404, Ada: 200 }],
      [`/api/finishes/${finish}`, {}, { Mina: 200, Edda: 200, Lou: 200, Nils: 404 }],
      [`/api/media/${media}/frames/1/pass`, {}, { Lou: 200, Nils: 404 }],
      [`/api/media/${media}/frames/1/contents`, {}, { Lou: 200, Nils: 404 }],
      [`/api/exports?shot=${shot}`, {}, { Lou: 200, Nils: 404 }],
      [`/api/shots/${shot}`, { method: 'PATCH', body: { name: 'Hall' } }, { Edda: 200, Lou: 403, Nils: 404 }],
      [
        `/api/media/${media}`,
        { method: 'PATCH', body: { gaps: 'hold' } },
        { Edda: 200, Lou: 403, Nils: 404 },
      ],
      [
        `/api/projects/${project}`,
        { method: 'PATCH', body: { name: 'Orrery' } },
        { Mina: 200, Edda: 403, Lou: 403, Nils: 404 },
      ],
      [`/api/projects/${project}/members`, {}, { Mina: 200, Edda: 403, Lou: 403, Nils: 404 }],
      ['/api/people', {}, { Ada: 200, Mina: 403, Nils: 403 }],
      ['/api/record', {}, { Ada: 200, Mina: 403 }],
      ['/api/queue/webhook', {}, { Ada: 200, Mina: 403 }],
      [
        `/api/projects/${project}/roots`,
        { method: 'PUT', body: { roots: [] } },
        { Ada: 200, Mina: 403, Nils: 403 },
      ],
    ];
    for (const [path, init, expected] of asked)
      for (const [as, status] of Object.entries(expected))
        expect(
          await statusOf(path, { ...init, as: as as Name }),
          `${init.method ?? 'GET'} ${path} as ${as}`,
        ).toBe(status);
    expect((await save('Lou', finish)).status).toBe(403);
    expect((await save('Nils', finish)).status).toBe(404);
    expect((await save('Edda', finish)).status).toBe(200);
    const versions = await jsonOf<{ by?: string }[]>(`/api/finishes/${finish}/versions`, { as: 'Lou' });
    expect(versions.map((v) => v.by)).toEqual(['Edda', undefined]);
  });

  test('what is not theirs is not there, by address and by body, in lists and on pages', async () => {
    const { project, shot, finish, media, run, reference } = hidden;
    const document = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
    for (const [path, init] of [
      [`/api/shots/${shot}`],
      [`/api/shots/${shot}/events`],
      [`/api/shots/${shot}/references`],
      [`/api/finishes/${finish}`],
      [`/api/finishes/${finish}/versions`],
      [`/api/finishes/${finish}/versions/1`],
      [`/api/finishes/${finish}/poster`],
      [`/api/media/${media}/frames/1/pass`],
      [`/api/media/${media}/frames/1/small-picture`],
      [`/api/references/${reference}`],
      [`/api/exports/${run}/download`],
      [`/api/exports/${run}/cancel`, { method: 'POST' }],
      [`/api/exports?shot=${shot}`],
      [`/api/projects/${project}`, { method: 'DELETE' }],
      [`/api/shots/${shot}/copy`, { method: 'POST' }],
      ['/api/finishes', { method: 'POST', body: { copy: finish, name: 'Mine' } }],
      [`/api/shots/${theirs.shot}`, { method: 'PATCH', body: { project } }],
      ['/api/exports', { method: 'POST', body: { shot, document, frames: '1', format: 'exr', name: 'x' } }],
      [
        '/api/exports/places',
        { method: 'POST', body: { shot, finish: 'x', name: 'x', format: 'exr', frames: '1', into: '/' } },
      ],
      [
        '/api/shots',
        {
          method: 'POST',
          body: { project: 'Secret', shot: 'New', media: [{ pattern: join(frames, 'hall.####.exr') }] },
        },
      ],
    ] as [string, Init?][])
      expect(await statusOf(path, { ...init, as: 'Mina' }), `${init?.method ?? 'GET'} ${path}`).toBe(404);
    expect(await statusOf('/api/projects', { method: 'POST', as: 'Mina', body: { name: 'Secret' } })).toBe(
      409,
    );
    for (const path of ['/api/shelf', '/api/queue']) {
      expect(await (await ask(path, { as: 'Mina' })).text(), path).not.toContain('Secret');
      expect(await (await ask(path, { as: 'Ada' })).text(), path).toContain('Secret');
    }
    for (const path of ['/', '/import', '/sheet'])
      expect(await (await ask(path, { as: 'Mina' })).text(), path).not.toContain('Secret');
    expect(await statusOf(`/shots/${shot}`, { as: 'Mina' })).toBe(404);
    expect(await statusOf(`/shots/${shot}`, { as: 'Ada' })).toBe(200);
    expect(await statusOf('/people', { as: 'Mina' })).toBe(404);
  });

  test('what is followed ends soon after one may not follow it any more', async () => {
    const people = await jsonOf<{ id: number; name: string }[]>('/api/people', { as: 'Ada' });
    const lou = people.find((p) => p.name === 'Lou')!.id;
    const role = (name: string | null) =>
      jsonOf(`/api/projects/${theirs.project}/members`, {
        method: 'PUT',
        as: 'Mina',
        body: { account: lou, role: name },
      });
    const [kept, lost] = await Promise.all(
      (['Mina', 'Lou'] as const).map((as) => ask(`/api/shots/${theirs.shot}/events`, { as })),
    );
    expect([kept.status, lost.status]).toEqual([200, 200]);
    let isOpen = true;
    const watched = kept.body!.getReader();
    watched.closed.then(
      () => (isOpen = false),
      () => (isOpen = false),
    );
    await role(null);
    const reader = lost.body!.getReader();
    const ended = (async () => {
      while (!(await reader.read()).done);
    })();
    await Promise.race([
      ended.catch(() => {}),
      new Promise((_, late) => setTimeout(() => late(new Error('it goes on')), 25_000)),
    ]);
    expect(isOpen).toBe(true);
    await watched.cancel();
    await role('look');
  }, 40_000);

  test('folders of the server are for who manages, inside those of the project, and never Zafiro’s own', async () => {
    const look = (pattern: string, as: Name) =>
      statusOf(`/api/look?pattern=${encodeURIComponent(pattern)}`, { as });
    const browse = (path: string, as: Name) =>
      statusOf(`/api/browse?path=${encodeURIComponent(path)}`, { as });
    const add = (pattern: string, as: Name) =>
      statusOf(`/api/shots/${theirs.shot}/media`, { method: 'POST', as, body: { media: [{ pattern }] } });
    const [here, there] = [join(frames, 'hall.####.exr'), join(other, 'hall.####.exr')];
    const setRoots = (roots: string[]) =>
      statusOf(`/api/projects/${theirs.project}/roots`, { method: 'PUT', as: 'Ada', body: { roots } });
    expect(await setRoots([frames])).toBe(200);
    expect(await browse(frames, 'Mina')).toBe(200);
    expect(await browse(frames, 'Edda')).toBe(403);
    expect(await browse('/etc', 'Mina')).toBe(422);
    expect(await browse(data, 'Mina')).toBe(422);
    expect(await look(here, 'Mina')).toBe(200);
    expect(await look(here, 'Edda')).toBe(422);
    expect(await look(join(data, 'exports', 'x.####.exr'), 'Mina')).toBe(422);
    expect(await add(here, 'Edda')).toBe(422);
    expect(await setRoots([frames, other])).toBe(200);
    expect(await add(there, 'Mina')).toBe(200);
    expect(await setRoots([frames])).toBe(200);
    expect(await add(there, 'Mina')).toBe(422);
    // Zafiro's own folder is nobody's to read, by no name and through no link, though a root holds it.
    symlinkSync(data, join(frames, 'inward'));
    for (const folder of [data, join(data, 'exports'), join(frames, 'inward')])
      expect(await setRoots([folder]), folder).toBe(422);
    expect(await browse(data, 'Ada')).toBe(422);
    expect(await browse(join(frames, 'inward'), 'Ada')).toBe(422);
    expect(await look(join(data, 'exports', 'x.####.exr'), 'Ada')).toBe(422);
    // A frame that is a link out of the folders.
    symlinkSync(join(other, 'hall.0001.exr'), join(frames, 'led.0001.exr'));
    expect(await look(join(frames, 'led.####.exr'), 'Mina')).toBe(422);
    expect(await add(join(frames, 'led.####.exr'), 'Mina')).toBe(422);
    expect(await browse(other, 'Mina')).toBe(422);
    expect(await add(here, 'Mina')).toBe(200);
    expect(await setRoots(['/etc'])).toBe(422);
  });

  test('an export writes over no frame of a shot, by no link, nor over what lies beside, nor into Zafiro’s own folder', async () => {
    symlinkSync(frames, join(frames, 'outward'));
    writeFrames(frames, 'beside', [1]);
    const before = readFileSync(join(frames, 'hall.0001.exr'));
    const document = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
    const write = async (into: string, name: string) => {
      const response = await ask('/api/exports', {
        method: 'POST',
        as: 'Ada',
        body: { shot: theirs.shot, document, frames: '1', format: 'exr', name, into, overwrites: true },
      });
      return `${response.status} ${await response.text()}`;
    };
    for (const into of [frames, join(frames, 'outward')]) {
      expect(await write(into, 'hall')).toMatch(/^422 .*would write over frames of Hall/);
      expect(await write(into, 'HALL')).toMatch(/^422 .*would write over frames of Hall/);
      expect(await write(into, 'beside')).toMatch(/^422 .*beside\.0001\.exr lies beside frames of Hall/);
    }
    expect(await write(join(data, 'new'), 'hall')).toMatch(/^422 .*own data folder/);
    expect(await write(join(frames, 'inward', 'media'), 'hall')).toMatch(/^422 .*own data folder/);
    expect(readFileSync(join(frames, 'hall.0001.exr'))).toEqual(before);
    // Two that ask at once do not both get the place.
    const twice = await Promise.all([
      write(join(frames, 'out'), 'twice'),
      write(join(frames, 'out'), 'twice'),
    ]);
    expect(twice.map((t) => t.slice(0, 3)).sort()).toEqual(['200', '409']);
  });

  test('what is sent is counted while it is read, and nothing is read of whoever is not let in', async () => {
    /**
     * Sends zeros without saying how many, until it is answered; gives the answer, and how many were taken. By a bare socket: what is written after the
     * answer may break the connection, and the answer is there all the same.
     */
    const pour = (path: string, method: string, headers: Record<string, string>) =>
      new Promise<{ status: number; sent: number }>((done, failed) => {
        let [sent, answer] = [0, ''];
        const { hostname, port, host } = new URL(zaf.address);
        const socket = connect(Number(port), hostname);
        socket.on('error', () => {});
        socket.on('close', () =>
          failed(new Error(`${path}: closed without an answer, after ${sent} bytes.`)),
        );
        socket.on('data', (bytes) => {
          answer += bytes;
          const found = /^HTTP\/1.1 (\d+)/.exec(answer);
          if (!found) return;
          done({ status: Number(found[1]), sent });
          socket.destroy();
        });
        const all = { host, 'transfer-encoding': 'chunked', ...headers };
        const lines = Object.entries(all).map(([name, value]) => `${name}: ${value}\r\n`);
        socket.write(`${method} ${path} HTTP/1.1\r\n${lines.join('')}\r\n`);
        const zeros = Buffer.alloc(1 << 16, 48);
        const piece = Buffer.concat([
          Buffer.from(`${zeros.length.toString(16)}\r\n`),
          zeros,
          Buffer.from('\r\n'),
        ]);
        const next = () => {
          if (socket.destroyed) return;
          if (sent > 200e6) return void socket.write('0\r\n\r\n');
          sent += zeros.length;
          socket.write(piece, next);
        };
        next();
      });
    const json = { 'content-type': 'application/json' };
    const refused = await pour('/api/node', 'POST', json);
    expect(refused.status).toBe(403);
    expect(refused.sent).toBeLessThan(20e6);
    expect((await pour('/api/sign-in', 'POST', json)).status).toBe(422);
    // A file that is longer than was said, or of which nothing was said.
    const { upload } = await jsonOf<{ upload: string }>('/api/uploads', { method: 'POST', as: 'Ada' });
    const file = `/api/uploads/${upload}/long.exr`;
    const longer = await pour(file, 'PUT', { cookie: cookies.Ada, 'x-zafiro-size': '100' });
    expect(longer.status).toBe(422);
    expect(longer.sent).toBeLessThan(20e6);
    expect((await pour(file, 'PUT', { cookie: cookies.Ada })).status).toBe(422);
  });

  test('projects are made by whom an administrator lets; recipes are taken away by who brought them', async () => {
    const people = await jsonOf<{ id: number; name: string; makesProjects: boolean }[]>('/api/people', {
      as: 'Ada',
    });
    const nils = people.find((p) => p.name === 'Edda')!;
    expect(nils.makesProjects).toBe(true);
    const may = (makesProjects: boolean) =>
      jsonOf(`/api/people/${nils.id}`, { method: 'PATCH', as: 'Ada', body: { makesProjects } });
    const make = () =>
      statusOf('/api/projects', { method: 'POST', as: 'Edda', body: { name: 'Of her own' } });
    await may(false);
    expect(await make()).toBe(403);
    await may(true);
    expect(await make()).toBe(200);
    const [recipe] = await jsonOf<{ id: string }[]>('/api/recipes', { as: 'Edda' });
    expect(await statusOf(`/api/recipes/${recipe.id}`, { method: 'DELETE', as: 'Edda' })).toBe(403);
    // Where it is used says nothing of projects that one may not see.
    await db.query('UPDATE finish SET recipes = ? WHERE id IN (?)', [
      JSON.stringify([{ id: recipe.id, version: 1, linked: true }]),
      [theirs.finish, hidden.finish],
    ]);
    const usedIn = async (as: Name) =>
      (await jsonOf<{ usedIn: { project: string }[] }>(`/api/recipes/${recipe.id}`, { as })).usedIn.map(
        (u) => u.project,
      );
    expect(await usedIn('Edda')).toEqual(['Orrery']);
    expect((await usedIn('Ada')).sort()).toEqual(['Orrery', 'Secret']);
    await db.query("UPDATE finish SET recipes = '[]'");
  });

  test('uploads are for who began them, and no more than the quota', async () => {
    const { upload } = await jsonOf<{ upload: string }>('/api/uploads', { method: 'POST', as: 'Edda' });
    const send = (as: Name, bytes: number) =>
      fetch(`${zaf.address}/api/uploads/${upload}/a.exr`, {
        method: 'PUT',
        headers: { cookie: cookies[as], 'x-zafiro-size': String(bytes) },
        body: new Uint8Array(bytes),
      }).then((r) => r.status);
    expect(await send('Mina', 10)).toBe(404);
    expect(await statusOf(`/api/uploads/${upload}`, { as: 'Mina' })).toBe(404);
    expect(await send('Edda', 600)).toBe(200);
    // Sent again it counts once.
    expect(await send('Edda', 300)).toBe(200);
    expect(await send('Edda', 600)).toBe(200);
    expect(await statusOf(`/api/uploads/${upload}`, { as: 'Edda' })).toBe(200);
    // 1000 bytes in this test.
    expect(await send('Edda', 1100)).toBe(422);
    expect(await statusOf('/api/uploads', { method: 'POST', as: 'Lou' })).toBe(403);
    expect(await statusOf('/api/uploads', { method: 'POST' })).toBe(401);
  });

  test('tokens: within their scope and their time, kept as hashes', async () => {
    const make = async (as: Name, scope: string) =>
      (
        await jsonOf<{ token: string }>('/api/account/tokens', {
          method: 'POST',
          as,
          body: { name: scope, scope, days: 30 },
        })
      ).token;
    const by = (token: string) => ({ headers: { authorization: `Bearer ${token}` } });
    expect(
      await statusOf('/api/account/tokens', {
        method: 'POST',
        as: 'Edda',
        body: { name: 'x', scope: 'node', days: 1 },
      }),
    ).toBe(403);
    const [looks, edits, metrics, node] = [
      await make('Edda', 'look'),
      await make('Edda', 'edit'),
      await make('Ada', 'metrics'),
      await make('Ada', 'node'),
    ];
    expect(await statusOf(`/api/shots/${theirs.shot}`, by(looks))).toBe(200);
    expect(await statusOf(`/api/shots/${hidden.shot}`, by(looks))).toBe(404);
    expect((await save(undefined, theirs.finish, by(looks).headers)).status).toBe(403);
    // From an older version: the token may, the version may not.
    expect((await save(undefined, theirs.finish, by(edits).headers)).status).toBe(409);
    expect(
      await statusOf('/api/account/tokens', {
        method: 'POST',
        body: { name: 'x', scope: 'edit', days: 1 },
        ...by(edits),
      }),
    ).toBe(403);
    // To manage is for people, also where an administrator made the token.
    const ofAda = by(await make('Ada', 'edit'));
    const rename = { method: 'PATCH', body: { name: 'Orrery' }, ...ofAda };
    expect(await statusOf(`/api/projects/${theirs.project}`, rename)).toBe(403);
    for (const token of [metrics, node]) expect(await statusOf('/api/shelf', by(token))).toBe(403);
    expect(await statusOf('/metrics')).toBe(401);
    expect(await statusOf('/metrics', by(looks))).toBe(403);
    const measured = await (await ask('/metrics', by(metrics))).text();
    expect(measured).toMatch(/zafiro_request_seconds_count\{route="GET \/api\/shelf",status="200"\} \d+/);
    expect(measured).not.toMatch(/Orrery|Secret|Mina|hall/);
    const join_ = (token: string) =>
      statusOf('/api/node', {
        method: 'POST',
        body: { name: 'm', cores: 1, megabytes: 1000, places: 1, build: 'none' },
        ...by(token),
      });
    expect(await join_(node)).toBe(409);
    expect(await join_(edits)).toBe(403);
    expect(
      await join_(readFileSync(join(data, 'node-token'), { encoding: 'utf8', flag: 'a+' }).trim() || 'x'),
    ).toBe(403);
    // The program on the command line asks with one too.
    const listed = (token: string) =>
      zafiro(['recipe', 'list'], { ZAFIRO_DATA: data, ...(token ? { ZAFIRO_TOKEN: token } : {}) });
    expect((await listed(looks)).code).toBe(0);
    expect((await listed('')).err).toContain('You are signed out');
    const [rows] = await db.query<mysql.RowDataPacket[]>('SELECT hash FROM access_token');
    expect(JSON.stringify(rows)).not.toContain(looks.slice(4));
    await db.query('UPDATE access_token SET expires_at = NOW(3) - INTERVAL 1 SECOND');
    expect(await statusOf(`/api/shots/${theirs.shot}`, by(looks))).toBe(401);
  });

  test('pages of other sites change nothing, and other names lead nowhere', async () => {
    const from = (origin: string) =>
      ask(`/api/shots/${theirs.shot}`, {
        method: 'PATCH',
        as: 'Mina',
        body: { name: 'Hall' },
        headers: { origin },
      });
    expect((await from('http://elsewhere.example')).status).toBe(403);
    expect((await from('null')).status).toBe(403);
    expect((await from(zaf.address)).status).toBe(200);
  });

  test('what costs much is limited for an account', async () => {
    let last = 0;
    for (let i = 0; i < 64 && last !== 429; i++)
      last = await statusOf('/api/uploads', { method: 'POST', as: 'Mina' });
    expect(last).toBe(429);
    expect(await statusOf('/api/uploads', { method: 'POST', as: 'Ada' })).toBe(200);
    expect(await statusOf('/api/shelf', { as: 'Mina' })).toBe(200);
  });

  test('what cannot be put down is not done', async () => {
    const rename = () =>
      statusOf(`/api/shots/${theirs.shot}`, { method: 'PATCH', as: 'Mina', body: { name: 'Renamed' } });
    const name = async () =>
      (await jsonOf<{ name: string }>(`/api/shots/${theirs.shot}`, { as: 'Mina' })).name;
    const before = await name();
    await db.query('RENAME TABLE record TO record_elsewhere');
    expect(await rename()).toBe(500);
    expect(await name()).toBe(before);
    await db.query('RENAME TABLE record_elsewhere TO record');
    expect(await rename()).toBe(200);
    expect(await name()).toBe('Renamed');
  });

  test('who did what is put down, without secrets', async () => {
    const entries = await jsonOf<{ who: string; did: string; project: string | null; address: string }[]>(
      '/api/record',
      { as: 'Ada' },
    );
    expect(entries).toContainEqual(
      expect.objectContaining({ who: 'Edda', did: 'saved a finish', project: 'Orrery' }),
    );
    for (const [who, did] of [
      ['Nils', 'signed in'],
      ['nils', 'failed to sign in'],
    ])
      expect(await jsonOf(`/api/record?who=${who}`, { as: 'Ada' })).toContainEqual(
        expect.objectContaining({ who, did }),
      );
    const exported = await jsonOf<{ did: string }[]>('/api/record?who=Ada', { as: 'Ada' });
    expect(exported.map((e) => e.did)).toContain('exported');
    const [rows] = await db.query<mysql.RowDataPacket[]>('SELECT * FROM record');
    for (const secret of [...Object.values(passwords), 'zaf_'])
      expect(JSON.stringify(rows)).not.toContain(secret);
    expect(entries.every((e) => /^(::ffff:)?127\.0\.0\.1$|command line/.test(e.address))).toBe(true);
    const log = readFileSync(join(data, 'logs', 'next.log'), 'utf8');
    for (const secret of [...Object.values(passwords), cookies.Ada.split('=')[1], 'Orrery', 'hall.####'])
      expect(log, secret).not.toContain(secret);
    expect(log).toMatch(/"route":"PUT \/api\/finishes\/:finish","status":200,"millis":[\d.]+,"who":"Edda"/);
  });

  test('the last administrator stays; an account that goes takes its sessions along', async () => {
    const people = await jsonOf<{ id: number; name: string }[]>('/api/people', { as: 'Ada' });
    const idOf = (name: Name) => people.find((p) => p.name === name)!.id;
    expect(await statusOf(`/api/people/${idOf('Ada')}`, { method: 'DELETE', as: 'Ada' })).toBe(422);
    expect(
      await statusOf(`/api/people/${idOf('Ada')}`, { method: 'PATCH', as: 'Ada', body: { isAdmin: false } }),
    ).toBe(422);
    expect(await statusOf('/api/shelf', { as: 'Edda' })).toBe(200);
    expect(await statusOf(`/api/people/${idOf('Edda')}`, { method: 'DELETE', as: 'Ada' })).toBe(200);
    expect(await statusOf('/api/shelf', { as: 'Edda' })).toBe(401);
  });
});

test('behind a proxy with TLS: cookies for it alone, its name, and the address that it names', async () => {
  await db.end();
  await zaf.stop();
  zaf = await startInstance('start', data, ['--behind-proxy', 'https://zafiro.example'], env);
  db = await mysql.createConnection(databaseOf(data));
  const response = await ask('/api/sign-in', {
    method: 'POST',
    body: { name: 'Ada', password: passwords.Ada },
    headers: { origin: 'https://zafiro.example', 'x-forwarded-for': '203.0.113.9, 198.51.100.7' },
  });
  expect(response.status).toBe(200);
  expect(response.headers.get('set-cookie')).toMatch(
    /^__Host-zafiro=[\w-]{43}; Path=\/; HttpOnly; SameSite=Lax; Max-Age=2592000; Secure$/,
  );
  const [[last]] = await db.query<mysql.RowDataPacket[]>(
    'SELECT address FROM session ORDER BY created_at DESC LIMIT 1',
  );
  expect(last.address).toBe('198.51.100.7');
  expect(
    await statusOf('/api/sign-in', {
      method: 'POST',
      body: { name: 'Ada', password: passwords.Ada },
      headers: { origin: zaf.address },
    }),
  ).toBe(403);
  // A name that was guessed from one address is slowed down, not locked, for its owner at another.
  const from = (address: string, password: string) =>
    statusOf('/api/sign-in', {
      method: 'POST',
      body: { name: 'Mina', password },
      headers: { origin: 'https://zafiro.example', 'x-forwarded-for': address },
    });
  for (let i = 0; i < 10; i++) expect(await from('203.0.113.9', `wrong ${i}`)).toBe(403);
  expect(await from('203.0.113.9', passwords.Mina)).toBe(429);
  expect(await from('198.51.100.8', passwords.Mina)).toBe(200);
});
