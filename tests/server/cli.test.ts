import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, expect, test } from 'vitest';
import { encodeSrgb } from '../../core/colour/srgb';
import { addStep, newFinish } from '../../core/finish/edits';
import { writeExr } from '../../core/formats/exr/write';
import { floatsToHalves } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';
import { remove, temporaryFolder, zafiro } from './instance';

/** `run` and `inspect` as a script would use them. */
const folder = temporaryFolder();
afterAll(() => remove(folder));

const [width, height] = [21, 13];
const premultiplied = [0.09375, 0.25, 2, 0.5];

function frameFile(name: string) {
  const plane = (v: number) => floatsToHalves(new Float32Array(width * height).fill(v));
  const channels = [...'RGBA'].map((c, i) => ({
    name: c,
    type: 'half' as const,
    samples: plane(premultiplied[i]),
  }));
  const ids = new Uint32Array(width * height).fill(7);
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const bytes = writeExr(
    { channels: [...channels, { name: 'object.id', type: 'uint', samples: ids }], dataWindow },
    nodeZlib,
  );
  writeFileSync(join(folder, name), bytes);
}

const bare = newFinish('bare', 'Bare', { type: 'pass', media: 'hall', pass: '' });
const finishFile = (name: string, doc: unknown) => {
  const path = join(folder, name);
  writeFileSync(path, typeof doc === 'string' ? doc : JSON.stringify(doc));
  return path;
};

frameFile('hall.0001.exr');
frameFile('hall.0002.exr');
const media = `hall=${folder}/hall.####.exr`;

test('inspect prints sizes, channels with types and passes', async () => {
  const { code, out } = await zafiro(['inspect', 'hall.0001.exr', '--json'], {}, folder);
  expect(code).toBe(0);
  expect(JSON.parse(out)[0]).toMatchObject({
    file: 'hall.0001.exr',
    width,
    height,
    parts: [
      {
        compression: 'zip',
        channels: [{ name: 'A', type: 'half' }, {}, {}, {}, { name: 'object.id', type: 'uint' }],
      },
    ],
    passes: [
      { label: 'beauty', kind: 'picture', channels: ['R', 'G', 'B', 'A'] },
      { label: 'object', kind: 'id' },
    ],
  });
});

test('run without --frames takes what is there; PNG is straight, sRGB, 16 bit', async () => {
  const done = await zafiro([
    'run',
    finishFile('bare.json', bare),
    '--media',
    media,
    '--out',
    `${folder}/o.####.png`,
  ]);
  expect(done).toMatchObject({ code: 0, err: '' });
  const png = sharp(`${folder}/o.0002.png`);
  expect(await png.metadata()).toMatchObject({ width, height, channels: 4, depth: 'ushort', space: 'rgb16' });
  const pixels = await png.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  const first = new Uint16Array(pixels.buffer, pixels.byteOffset, 4);
  // 0.09375/0.5 and 0.25/0.5 through the curve of IEC 61966-2-1; 2/0.5 is past white; alpha is not light.
  expect(Array.from(first)).toEqual([
    Math.round(encodeSrgb(0.09375 / 0.5) * 65535),
    Math.round(encodeSrgb(0.5) * 65535),
    65535,
    Math.round(0.5 * 65535),
  ]);
});

test('--scale renders a draft of that size', async () => {
  const doc = addStep('main', 0, 'bloom', 'b').apply(bare);
  const args = [
    'run',
    finishFile('bloom.json', doc),
    '--media',
    media,
    '--frames',
    '1',
    '--scale',
    '0.5',
    '--out',
    `${folder}/d.exr`,
  ];
  expect((await zafiro(args)).code).toBe(0);
  const { out } = await zafiro(['inspect', `${folder}/d.exr`, '--json']);
  expect(JSON.parse(out)[0]).toMatchObject({ width: 11, height: 7 });
});

mkdirSync(join(folder, 'notes'));
writeFileSync(join(folder, 'cut.0001.exr'), 'v/1\x01\x02');
const wrongValue = { ...addStep('main', 0, 'bloom', 'b').apply(bare) };
const mistakes: [string, string[], number, RegExp][] = [
  ['no such command', ['polish'], 1, /no command “polish”/],
  ['no finish', ['run'], 2, /^zafiro: Use: zafiro run FINISH\.json/],
  ['unknown option', ['run', 'x.json', '--loud'], 2, /--loud/],
  [
    'a finish that is not there',
    ['run', `${folder}/none.json`, '--out', 'x.exr'],
    1,
    /none\.json is not there/,
  ],
  [
    'a finish that is not JSON',
    ['run', finishFile('text.json', 'hello'), '--out', 'x.exr'],
    1,
    /text\.json is not JSON/,
  ],
  [
    'a later format',
    ['run', finishFile('later.json', { ...bare, version: 9 }), '--out', 'x.exr'],
    1,
    /later\.json: The finish has format version 9 \(version\)\. Open it with a newer Zafiro/,
  ],
  [
    'a step nobody knows',
    [
      'run',
      finishFile('step.json', JSON.stringify(wrongValue).replace('"type":"bloom"', '"type":"polish"')),
      '--out',
      'x.exr',
    ],
    1,
    /There is no step “polish” \(strand main, step b\)/,
  ],
  [
    'media that were not given',
    ['run', finishFile('bare2.json', bare), '--frames', '1', '--out', `${folder}/x.exr`],
    1,
    /uses the media “hall”, which was not given.*--media hall=PATTERN/,
  ],
  [
    'a frame that is not there',
    ['run', finishFile('bare3.json', bare), '--media', media, '--frames', '5', '--out', `${folder}/x.exr`],
    1,
    /Frame 5: .*hall\.0005\.exr is not there\. Render it/,
  ],
  [
    'a file cut short',
    [
      'run',
      finishFile('bare4.json', bare),
      '--media',
      `hall=${folder}/cut.####.exr`,
      '--frames',
      '1',
      '--out',
      `${folder}/x.exr`,
    ],
    1,
    /Frame 1: .*cut\.0001\.exr: .* \(at byte \d+\)/,
  ],
  [
    'one name for many frames',
    ['run', finishFile('bare5.json', bare), '--media', media, '--out', `${folder}/x.exr`],
    2,
    /--out needs a number such as ####/,
  ],
  ['a folder to inspect', ['inspect', join(folder, 'notes')], 1, /is a folder/],
  [
    'a text to inspect',
    ['inspect', join(folder, 'text.json')],
    1,
    /text\.json: This is not an OpenEXR file \(at byte 0\)/,
  ],
];

test.each(mistakes)('%s: one clear line and a status that is not 0', async (_, args, status, line) => {
  const { code, err } = await zafiro(args);
  const last = err.trim().split('\n').pop()!;
  expect(last).toMatch(line);
  expect(code).toBe(status);
  if (args[0] !== 'polish') expect(err.trim().split('\n')).toHaveLength(1);
});
