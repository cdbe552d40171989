import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { writeExr } from '../../core/formats/exr/write';
import { nodeZlib } from '../../engine/node/zlib';
import { type Fetch, mediaMirror } from './mirror';

const folder = mkdtempSync(join(tmpdir(), 'zafiro-mirror-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let number = 0;
const fresh = () => join(folder, String(++number));

/** A frame that names the file which lists its objects. */
const frameBytes = writeExr(
  {
    dataWindow: { xMin: 0, yMin: 0, xMax: 3, yMax: 3 },
    displayWindow: { xMin: 0, yMin: 0, xMax: 3, yMax: 3 },
    compression: 'none',
    channels: [{ name: 'Y', type: 'float', samples: new Float32Array(16) }],
    attributes: {
      'cryptomatte/1/name': { type: 'string', value: 'ids' },
      'cryptomatte/1/manif_file': { type: 'string', value: 'names.json' },
    },
  },
  nodeZlib,
);
const names = Buffer.from('{"globe":"00000001"}');
const file = (frame: number, name = 'hall') => ({
  ...{ media: 'hall', frame, size: frameBytes.length, modified: 1_700_000_000_000 },
  path: `/renders/${name}.000${frame}.exr`,
});
const answerOf = (bytes: Uint8Array) =>
  new Response(bytes as BodyInit, {
    headers: { 'x-zafiro-size': String(bytes.length), 'x-zafiro-modified': '1700000000000' },
  });
/** What the server has; `asked` counts. */
function server({ list = () => Promise.resolve(answerOf(names)) } = {}) {
  const asked: string[] = [];
  const fetch: Fetch = async ({ path }, beside) => {
    asked.push(beside ?? path);
    return beside === undefined ? answerOf(frameBytes) : list();
  };
  return { asked, fetch };
}
const copied = (at: string) =>
  readdirSync(at, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.includes('.'))
    .map((name) => name.split('/').at(-1)!)
    .sort();

test('a list of names stays beside its frames, however many frames come after, and when a frame comes anew', async () => {
  const at = fresh();
  const mirror = mediaMirror(at, 1e6);
  const { fetch } = server();
  for (const frame of [1, 2, 3]) await mirror.have(file(frame), fetch);
  // Rendered again on the server: fetched again here, in its place.
  await mirror.have({ ...file(2), modified: 1_700_000_009_000 }, fetch);
  expect(copied(at)).toEqual(['hall.0001.exr', 'hall.0002.exr', 'hall.0003.exr', 'names.json']);
  const list = join(mirror.patternOf('/renders/hall.####.exr'), '..', 'names.json');
  expect(readFileSync(list)).toEqual(names);
});

test('what makes room goes with its list, and comes again with it', async () => {
  const at = fresh();
  // Room for one frame and its list.
  const mirror = mediaMirror(at, frameBytes.length + names.length + 10);
  const { fetch, asked } = server();
  await mirror.have(file(1), fetch);
  await mirror.have({ ...file(1, 'other'), path: '/elsewhere/other.0001.exr' }, fetch);
  expect(copied(at)).toEqual(['names.json', 'other.0001.exr']);
  asked.length = 0;
  await mirror.have(file(1), fetch);
  expect(asked).toEqual(['/renders/hall.0001.exr', 'names.json']);
  expect(existsSync(mirror.patternOf('/renders/hall.0001.exr'))).toBe(true);
});

test('frames that are taken together are written apart', async () => {
  const at = fresh();
  const mirror = mediaMirror(at, 1e6);
  const { fetch } = server();
  await Promise.all(Array.from({ length: 40 }, (_, i) => mirror.have(file(1 + (i % 8)), fetch)));
  expect(copied(at)).toHaveLength(9);
});

test('a list that the server has not is left to who asks for its names; one that does not come fails the frame', async () => {
  const missing = () => Promise.reject(Object.assign(new Error('It is not there.'), { code: 'not-found' }));
  const at = fresh();
  await mediaMirror(at, 1e6).have(file(1), server({ list: missing }).fetch);
  expect(copied(at)).toEqual(['hall.0001.exr']);
  const broken = () => Promise.reject(Object.assign(new Error('Cut off.'), { code: 'internal' }));
  const mirror = mediaMirror(fresh(), 1e6);
  await expect(mirror.have(file(1), server({ list: broken }).fetch)).rejects.toThrow('Cut off.');
  // And is asked for again.
  await mirror.have(file(1), server().fetch);
});

test('a copy that did not arrive whole is none', async () => {
  const at = fresh();
  const short: Fetch = async () =>
    new Response('half', { headers: { 'x-zafiro-size': '900', 'x-zafiro-modified': '1' } });
  await expect(mediaMirror(at, 1e6).have(file(1), short)).rejects.toThrow(/did not arrive whole/);
  expect(copied(at)).toEqual([]);
});
