import { spawnSync } from 'node:child_process';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { newFinish } from '../../core/finish/edits';
import { database } from '../../server/base/connect';
import { createExport } from '../../server/exports/runs';
import { insertShot } from '../../server/shots/add-shot';
import { openQueue } from './export-queue';
import { remove, temporaryFolder, until } from './instance';
import { ownDatabase } from './own-database';

process.env.ZAFIRO_WEBHOOK_PAUSE_MILLIS = '50';
process.env.ZAFIRO_WEBHOOK_TRIES = '4';
const { openNotices } = await import('../../server/notices/notices');
const { checkedTarget, isPublic, readWebhook, send, setWebhook, signatureOf } = await import(
  '../../server/notices/webhook'
);

/** Ends of exports, told to a program by a real server, with a real MariaDB and Redis. */
let own: Awaited<ReturnType<typeof ownDatabase>>;
let queue: Awaited<ReturnType<typeof openQueue>>;
let server: Server;
let address: string;
let shot: number;
const folder = temporaryFolder();
const heard: { body: string; headers: IncomingMessage['headers'] }[] = [];
/** What it answers to the next messages; then 204. */
let answers: number[] = [];
const complaints: string[] = [];

beforeAll(async () => {
  own = await ownDatabase(folder);
  queue = await openQueue(folder);
  shot = await insertShot({
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: 'hall', pattern: '/frames/hall.####.exr', first: 1, last: 24 }],
    ...{ first: 1, last: 24, rate: 24, width: 960, height: 540 },
    finish: newFinish('bare', 'Bare', { type: 'pass', media: 'hall', pass: '' }),
  });
  server = createServer((request, response) => {
    let body = '';
    request.on('data', (d) => (body += d));
    request.on('end', () => {
      heard.push({ body, headers: request.headers });
      const status = answers.shift() ?? 204;
      response.writeHead(status, status === 302 ? { location: `${address}/elsewhere` } : {}).end();
    });
  });
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  address = `http://127.0.0.1:${(server.address() as { port: number }).port}/told`;
});
afterAll(async () => {
  server.close();
  await queue.close();
  await own.close();
  remove(folder);
});

test('addresses inside this network are refused, by name and by number, unless they are allowed', async () => {
  // RFC 1918, 6598, 3927, 4193, 4291, 6890; the address of cloud machines' own data among them.
  const inside =
    '10.0.0.1 172.16.9.9 192.168.1.1 127.0.0.1 100.64.0.1 169.254.169.254 0.0.0.0 ::1 fe80::1 fc00::1 ::ffff:127.0.0.1 224.0.0.1 255.255.255.255';
  for (const one of inside.split(' ')) expect([one, isPublic(one)]).toEqual([one, false]);
  for (const one of ['93.184.216.34', '2606:2800:220:1:248:1893:25c8:1946']) expect(isPublic(one)).toBe(true);
  for (const url of [
    address,
    'http://localhost:80/',
    'http://[::1]/',
    'http://2130706433/',
    'http://0x7f.1/',
  ])
    await expect(checkedTarget(url)).rejects.toThrow(/lies inside this network/);
  for (const url of ['file:///etc/passwd', 'ftp://example.com', 'http://a:b@example.com/', 'no address'])
    await expect(checkedTarget(url)).rejects.toThrow(/is no address of the web/);
  await expect(setWebhook(address)).rejects.toThrow(/inside this network/);
  process.env.ZAFIRO_WEBHOOK_PRIVATE = '1';
  await setWebhook(address);
  expect((await readWebhook())!.url).toBe(address);
});

test('the signature is what OpenSSL makes of time, dot and text', () => {
  const text = 'what do ya want for nothing?';
  const { stdout } = spawnSync('openssl', ['dgst', '-sha256', '-hmac', 'Jefe'], {
    input: `1700000000.${text}`,
    encoding: 'utf8',
  });
  expect(stdout.trim().endsWith(signatureOf('Jefe', 1_700_000_000, text))).toBe(true);
});

test('an export that ends is told once, signed; what is not taken is sent again', async () => {
  const notices = openNotices((error) => complaints.push(error.message));
  const finish = newFinish('bare', 'Bare', { type: 'pass', media: 'hall', pass: '' });
  const run = await createExport(shot, finish, [1, 2], { format: 'exr' }, 'hall');
  await queue.finish((await queue.claim())!);
  await notices.look();
  expect(heard).toEqual([]);
  answers = [500, 302];
  await queue.finish((await queue.claim())!);
  await notices.look();
  await notices.look();
  await until('the third try', async () => heard.length >= 3, 20);
  const { secret } = (await readWebhook())!;
  for (const { body, headers } of heard) {
    expect(JSON.parse(body)).toEqual({
      ...{
        event: 'export-ended',
        export: run,
        project: 'Orrery Hall',
        shot: 'Shot 010',
        file: 'hall.####.exr',
      },
      cancelled: false,
      frames: { done: 2, failed: 0, of: 2 },
    });
    expect(headers['x-zafiro-signature']).toBe(
      `sha256=${signatureOf(secret, Number(headers['x-zafiro-time']), body)}`,
    );
  }
  await new Promise((r) => setTimeout(r, 500));
  expect(heard).toHaveLength(3);

  // Nobody takes it: it is given up after so many tries, and that is said.
  heard.length = 0;
  answers = new Array(9).fill(503);
  await database().query('UPDATE export_run SET noticed = FALSE');
  await notices.look();
  await until('the complaint', async () => complaints.length > 0, 20);
  expect(complaints).toEqual([
    expect.stringMatching(/webhook: 127\.0\.0\.1:\d+ answered 503\. It was tried 4 times\./),
  ]);
  expect(heard).toHaveLength(4);
  await notices.close();
});

test('what does not answer is not waited for without end', async () => {
  await expect(send({ url: 'http://127.0.0.1:9/', secret: 'a' }, {})).rejects.toThrow(/ECONNREFUSED/);
});
