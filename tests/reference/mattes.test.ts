import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { changeStrand, chooseObjects, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { type Beginning, matteBeginnings, startStrand } from '../../core/finish/new-strand';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { setValues } from '../../core/finish/value-edits';
import { readExr } from '../../core/formats/exr/read';
import { writeExr } from '../../core/formats/exr/write';
import { halvesToFloats } from '../../core/formats/half';
import { idFloat, idMatteAttributes } from '../../core/formats/id-mattes';
import type { Pass } from '../../core/formats/passes';
import { ellipse } from '../../core/math/path';
import { nodeZlib } from '../../engine/node/zlib';
import { remove, temporaryFolder, zafiro } from '../server/instance';
import { dump } from './oiio';

/** Mattes as the command line renders them, from a file that an independent reader (OpenImageIO) reads too. */
const folder = temporaryFolder();
afterAll(() => remove(folder));
const [width, height] = [48, 32];
const names = ['wheel', 'ring_inner', 'ring_outer', 'lamp'];

/** Three ranks a pixel in two layers, depth, and a beauty; coverage is in 64ths, so that halves hold it. */
function writeFrame() {
  const plane = (of: (i: number) => number) => Float32Array.from({ length: width * height }, (_, i) => of(i));
  const nth = (i: number, rank: number) => names[(Math.floor(i / 7) + rank) % names.length];
  const share = (i: number, rank: number) => [1 + (i % 31), 30 - (i % 30), 1][rank] / 64;
  const float = (name: string, of: (i: number) => number) => ({
    name,
    type: 'float' as const,
    samples: plane(of),
  });
  const channels = [
    ...[...'RGBA'].map((c) => float(c, () => 0.5)),
    float('ids00.R', (i) => idFloat(nth(i, 0))),
    float('ids00.G', (i) => share(i, 0)),
    float('ids00.B', (i) => idFloat(nth(i, 1))),
    float('ids00.A', (i) => share(i, 1)),
    float('ids01.R', (i) => (i % 2 ? idFloat(nth(i, 2)) : 0)),
    float('ids01.G', (i) => (i % 2 ? share(i, 2) : 0)),
    float('ids01.B', () => 0),
    float('ids01.A', () => 0),
    float('depth.Z', (i) => (i % width === 0 ? Number.POSITIVE_INFINITY : (i % width) / 4)),
  ];
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const attributes = idMatteAttributes('ids', names);
  writeFileSync(join(folder, 'hall.0001.exr'), writeExr({ channels, dataWindow, attributes }, nodeZlib));
}
writeFrame();
const passes = [
  { name: '', kind: 'picture', channels: ['R', 'G', 'B', 'A'] },
  { name: 'ids00', kind: 'id-matte', channels: [] },
  { name: 'ids01', kind: 'id-matte', channels: [] },
  { name: 'depth', label: 'depth', kind: 'depth', channels: ['depth.Z'] },
] as unknown as Pass[];
const base = newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' });
const beginnings = matteBeginnings([{ name: 'hall', passes }], {
  strand: 'main',
  after: 'head',
  name: 'Frame',
});
const begin = (key: string): Beginning => beginnings.find((b) => b.key.startsWith(key))!;

/** The matte at the end of a strand, as the command line writes it. */
async function rendered(name: string, from: Beginning, change: (doc: Finish, strand: string) => Finish) {
  const { edit, strand } = startStrand(base, from);
  const doc = changeStrand(change(edit.apply(base), strand), strand, { output: 'matte' }).apply(
    change(edit.apply(base), strand),
  );
  const file = join(folder, `${name}.json`);
  writeFileSync(file, JSON.stringify(doc));
  const args = ['run', file, '--media', `hall=${folder}/hall.####.exr`, '--frames', '1', '--output', 'matte'];
  const { code, err } = await zafiro([...args, '--out', `${folder}/${name}.####.exr`]);
  expect(err).toBe('');
  expect(code).toBe(0);
  const { samples } = readExr(readFileSync(`${folder}/${name}.0001.exr`), nodeZlib);
  return halvesToFloats(samples.get('R') as Uint16Array);
}

test('coverage of objects is what the independent reader’s samples sum to, for a name and for a pattern', async () => {
  const { samples } = dump(join(folder, 'hall.0001.exr'));
  const pairs = ['ids00.R', 'ids00.B', 'ids01.R'].map((id, k) => ({
    id: samples.get(id) as Float32Array,
    share: samples.get(['ids00.G', 'ids00.A', 'ids01.G'][k]) as Float32Array,
  }));
  const sumOf = (chosen: string[], i: number) => {
    const ids = chosen.map(idFloat);
    return Math.min(
      1,
      pairs.reduce((sum, p) => sum + (ids.includes(p.id[i]) ? p.share[i] : 0), 0),
    );
  };
  for (const [name, objects, meant] of [
    ['one', ['wheel'], ['wheel']],
    ['pattern', ['ring_*'], ['ring_inner', 'ring_outer']],
  ] as const) {
    const got = await rendered(name, begin('ids'), (doc, strand) =>
      chooseObjects(doc, strand, objects).apply(doc),
    );
    const worst = Math.max(...got.map((v, i) => Math.abs(v - sumOf([...meant], i))));
    expect(worst).toBeLessThan(1e-3);
    expect(Math.max(...got)).toBeGreaterThan(0.3);
  }
});

test('a depth band is full between its ends and leaves the endless out', async () => {
  const got = await rendered('band', begin('key/hall/depth'), (doc) =>
    setValues(doc, 'depth-range', { low: 2, lowSoft: 0, high: 4, highSoft: 2 }).apply(doc),
  );
  const row = [...got.subarray(0, width)];
  expect(row[0]).toBe(0);
  expect(row[7]).toBe(0);
  expect(row.slice(8, 17).every((v) => v === 1)).toBe(true);
  expect(row[20]).toBeCloseTo(0.5, 3);
  expect(row[24]).toBe(0);
});

test('an ellipse covers π a b', async () => {
  const got = await rendered('shapes', begin('shapes'), (doc, strand) =>
    addShapes(strand, [newShape('shape-1', 'Eye', ellipse(22.3, 15.8, 14.5, 9.25))]).apply(doc),
  );
  expect(got.reduce((a, b) => a + b, 0)).toBeCloseTo(Math.PI * 14.5 * 9.25, 0);
});
