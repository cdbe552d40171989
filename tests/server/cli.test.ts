import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, linkSync, mkdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, expect, test } from 'vitest';
import { encodeSrgb } from '../../core/colour/srgb';
import { addStep, addStrand, changeStrand, newFinish } from '../../core/finish/edits';
import { readExr } from '../../core/formats/exr/read';
import { writeExr } from '../../core/formats/exr/write';
import { floatsToHalves, halvesToFloats } from '../../core/formats/half';
import { openFile } from '../../engine/node/files/open';
import { nodeZlib } from '../../engine/node/zlib';
import { remove, root, temporaryFolder, zafiro } from './instance';

/** `run` and `inspect` as a script would use them. */
const folder = temporaryFolder();
afterAll(() => remove(folder));

/** What a shell offers after these words, the last of which may have been begun. */
const offered = async (...words: string[]) => {
  const { code, out } = await zafiro(['complete', '--', ...words], {}, folder);
  expect(code).toBe(0);
  const lines = out.trim().split('\n');
  return { words: lines.slice(0, -1).map((line) => line.split('\t')[0]), files: lines.at(-1) === ':0' };
};

test('a shell completes commands, options and their values by the programs that know them, and files', async () => {
  expect((await offered('ru')).words).toEqual(['run']);
  expect((await offered('run', '--fo')).words).toEqual(['--format']);
  expect((await offered('start', '--behind')).words).toEqual(['--behind-proxy']);
  expect((await offered('user', 're')).words).toEqual(['remove']);
  expect((await offered('user', 'role', 'Mina', 'Hall', '')).words).toEqual([
    'look',
    'edit',
    'manage',
    'none',
  ]);
  expect(await offered('inspect', '/hall')).toEqual({ words: [], files: true });
  for (const shell of ['bash', 'zsh', 'fish', 'powershell']) {
    const { code, out } = await zafiro(['complete', shell], {}, folder);
    expect([code, /zafiro.*complete/.test(out)], shell).toEqual([0, true]);
  }
  expect((await zafiro(['complete', 'csh'], {}, folder)).code).toBe(2);
}, 120_000);

const [width, height] = [21, 13];
const premultiplied = [0.09375, 0.25, 2, 0.5];

function frameFile(name: string) {
  const plane = (v: number) => floatsToHalves(new Float32Array(width * height).fill(v));
  const channels = [...'RGBA'].map((c, i) => ({
    name: c,
    type: 'half' as const,
    samples: plane(premultiplied[i]),
  }));
  const ids = Uint32Array.from({ length: width * height }, (_, i) => 3 + i);
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

test('inspect tells parts, channels with their ranges, digests and values, and passes', async () => {
  const args = ['inspect', 'hall.0001.exr', '--json', '--digest', '--pixel', '2,1'];
  const { code, out } = await zafiro(args, {}, folder);
  expect(code).toBe(0);
  const { samples } = readExr(readFileSync(join(folder, 'hall.0001.exr')), nodeZlib);
  const ids = samples.get('object.id')!;
  expect(JSON.parse(out)).toMatchObject({
    files: [
      {
        file: 'hall.0001.exr',
        ok: true,
        format: 'exr',
        parts: [
          {
            type: 'scanline',
            width,
            height,
            dataWindow: [0, 0, width - 1, height - 1],
            compression: 'zip',
            lineOrder: 'increasing',
            channels: [
              { name: 'A', type: 'half', xSampling: 1, nan: 0, inf: 0 },
              {},
              {},
              {},
              {
                name: 'object.id',
                type: 'uint',
                min: Math.min(...ids),
                max: Math.max(...ids),
                value: ids[width + 2],
                sha256: createHash('sha256')
                  .update(new Uint8Array(ids.buffer, ids.byteOffset, ids.byteLength))
                  .digest('hex'),
              },
            ],
          },
        ],
        passes: [
          { name: '', kind: 'picture', channels: ['R', 'G', 'B', 'A'] },
          { name: 'object', kind: 'id' },
        ],
      },
    ],
  });
});

test('inspect reads what it can, says of each file what it cannot, and exits with 3', async () => {
  writeFileSync(join(folder, 'notes.exr'), 'hello');
  const { code, out } = await zafiro(
    ['inspect', 'notes.exr', 'hall.0001.exr', 'cut.0001.exr', '--json'],
    {},
    folder,
  );
  expect(code).toBe(3);
  const { files } = JSON.parse(out);
  expect(files.map((f: { ok: boolean }) => f.ok)).toEqual([false, true, false]);
  expect(files[0].error.code).toBe('unknown-format');
  expect(files[2].error).toMatchObject({ code: 'truncated' });
  expect(files[2].error.message).toMatch(/cut\.0001\.exr: .*at byte \d+/);
});

test('a drawing without a file is held, or is empty; sRGB is made linear, straight colour multiplied', async () => {
  const red = { r: 255, g: 0, b: 0, alpha: 0.5 };
  for (const f of [1, 4])
    await sharp({ create: { width: 8, height: 8, channels: 4, background: red } })
      .png()
      .toFile(`${folder}/moth.${f}.png`);
  const doc = newFinish('moth', 'Moth', { type: 'pass', media: 'moth', pass: '' });
  const render = async (name: string, ...more: string[]) => {
    const out = `${folder}/${name}.####.exr`;
    const args = [
      'run',
      finishFile('moth.json', doc),
      '--media',
      `moth=${folder}/moth.#.png`,
      '--frames',
      '3',
      '--out',
      out,
    ];
    const done = await zafiro([...args, ...more]);
    if (done.code !== 0) return done.err;
    const { samples } = readExr(readFileSync(`${folder}/${name}.0003.exr`), nodeZlib);
    return ['R', 'A'].map((c) => halvesToFloats(samples.get(c) as Uint16Array)[0]);
  };
  expect(await render('missing')).toMatch(/Frame 3: .*moth\.3\.png is not there/);
  const [r, a] = (await render('held', '--gaps', 'moth=hold')) as number[];
  expect(a).toBeCloseTo(128 / 255, 3);
  expect(r).toBeCloseTo(a, 3);
  expect(await render('empty', '--gaps', 'moth=empty')).toEqual([0, 0]);
  expect(await render('wrong', '--gaps', 'moth=forget')).toMatch(/--gaps takes missing, hold, empty/);
});

test('a named output is rendered in place of the finished picture; one that is not there is said', async () => {
  const withGlow = addStrand(
    bare,
    { type: 'colour', colour: [0.25, 0.5, 1], alpha: 0.5 },
    'picture',
    'Glow',
  ).apply(bare);
  const doc = changeStrand(withGlow, 'strand', { output: 'glow' }).apply(withGlow);
  const args = (output: string) => [
    'run',
    finishFile('outputs.json', doc),
    '--media',
    media,
    '--frames',
    '1',
    '--output',
    output,
    '--out',
    `${folder}/glow.exr`,
  ];
  expect(await zafiro(args('glow'))).toMatchObject({ code: 0 });
  const { header, samples } = readExr(readFileSync(`${folder}/glow.exr`), nodeZlib);
  expect(header.dataWindow).toEqual({ xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 });
  expect(['R', 'G', 'B', 'A'].map((c) => halvesToFloats(samples.get(c) as Uint16Array)[7])).toEqual([
    0.125, 0.25, 0.5, 0.5,
  ]);
  expect((await zafiro(args('mist'))).err).toMatch(/no output “mist” \(strands\)\. The finish has: glow/);
});

test('a stack lays its layers over each other, faded or hidden', async () => {
  const still = (name: string, background: object) =>
    sharp({ create: { width: 4, height: 4, channels: 4, background: background as never } })
      .png()
      .toFile(`${folder}/${name}.png`);
  await still('below', { r: 255, g: 0, b: 0, alpha: 1 });
  await still('above', { r: 0, g: 255, b: 0, alpha: 1 });
  const colour = async (name: string, part: object) => {
    const layers = [
      { media: 'below', pass: '', show: true, opacity: 1 },
      { media: 'above', pass: '', show: true, opacity: 1, ...part },
    ];
    const doc = newFinish('stack', 'Stack', { type: 'stack', layers });
    const media = ['below', 'above'].flatMap((m) => ['--media', `${m}=${folder}/${m}.png`]);
    const out = `${folder}/${name}.exr`;
    expect(await zafiro(['run', finishFile(`${name}.json`, doc), ...media, '--out', out])).toMatchObject({
      code: 0,
    });
    const { samples } = readExr(readFileSync(out), nodeZlib);
    return ['R', 'G', 'A'].map((c) => halvesToFloats(samples.get(c) as Uint16Array)[0]);
  };
  expect(await colour('whole', {})).toEqual([0, 1, 1]);
  expect(await colour('hidden', { show: false })).toEqual([1, 0, 1]);
  expect(await colour('faded', { opacity: 0.25 })).toEqual([0.75, 0.25, 1]);
});

test('run takes the finish that an exported frame carries', async () => {
  const finish = finishFile('carried.json', addStep('main', 0, 'gain', 'gain').apply(bare));
  const first = ['run', finish, '--media', media, '--frames', '1', '--out', `${folder}/carried.####.exr`];
  expect(await zafiro(first)).toMatchObject({ code: 0 });
  const again = ['run', `${folder}/carried.0001.exr`, '--media', media, '--frames', '1'];
  expect(await zafiro([...again, '--out', `${folder}/again.####.exr`])).toMatchObject({ code: 0 });
  const digest = (name: string) =>
    createHash('sha256')
      .update(readFileSync(join(folder, name)))
      .digest('hex');
  expect(digest('again.0001.exr')).toBe(digest('carried.0001.exr'));
  // A render that Zafiro has not written says so.
  const none = await zafiro(['run', `${folder}/hall.0001.exr`, '--out', `${folder}/none.####.exr`]);
  expect(none.err).toMatch(
    /hall\.0001\.exr carries no finish\. Name a finish file, or a frame that Zafiro has exported/,
  );
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
  expect(JSON.parse(out).files[0].parts[0]).toMatchObject({ width: 11, height: 7 });
});

test('sources are never written: by their own name, nor through a link', async () => {
  const before = readFileSync(join(folder, 'hall.0001.exr'));
  symlinkSync(join(folder, 'hall.0001.exr'), join(folder, 'linked.0001.exr'));
  linkSync(join(folder, 'hall.0001.exr'), join(folder, 'second-name.0001.exr'));
  const finish = finishFile('over.json', bare);
  for (const name of ['hall', 'linked', 'second-name']) {
    const args = ['run', finish, '--media', media, '--frames', '1', '--out', `${folder}/${name}.####.exr`];
    const { code, err } = await zafiro(args);
    expect(err).toMatch(
      /--out would overwrite .*hall\.0001\.exr, which is a source\. Write to another folder/,
    );
    expect(code).toBe(2);
  }
  expect(readFileSync(join(folder, 'hall.0001.exr')).equals(before)).toBe(true);
});

mkdirSync(join(folder, 'notes'));
spawnSync('mkfifo', [join(folder, 'pipe.json'), join(folder, 'pipe.0001.exr')]);
writeFileSync(join(folder, 'cut.0001.exr'), 'v/1\x01\x02');
const wrongValue = { ...addStep('main', 0, 'bloom', 'b').apply(bare) };
const mistakes: [string, string[], number, RegExp][] = [
  ['no such command', ['polish'], 2, /Unknown command 'polish'/],
  ['a command that is mistyped', ['strat'], 2, /Did you mean start\?/],
  ['no finish', ['run', '--out', 'x.exr'], 2, /Missing required argument 'FINISH'.*run --help/],
  ['unknown option', ['run', 'x.json', '--out', 'x.exr', '--loud'], 2, /--loud/],
  ['an option of start that is mistyped', ['start', '--prot', '4750'], 2, /Did you mean --port\?/],
  ['an option of clean that is mistyped', ['clean', '--yess'], 2, /Did you mean --yes\?/],
  [
    'a role that there is none of',
    ['user', 'role', 'Ada', 'Hall', 'rule'],
    2,
    /Allowed choices are look, edit/,
  ],
  [
    'no frames',
    ['run', finishFile('bare5.json', bare), '--media', media, '--frames', '', '--out', `${folder}/x.exr`],
    2,
    /--frames takes numbers such as 1-24/,
  ],
  [
    'an encoding of a media that is not there',
    [
      'run',
      finishFile('bare6.json', bare),
      '--media',
      media,
      '--encoding',
      'wall=srgb',
      '--out',
      `${folder}/x.exr`,
    ],
    2,
    /--encoding names the media wall, which no --media does/,
  ],
  [
    'a media by the name of what every object has',
    ['run', finishFile('bare7.json', bare), '--media', '__proto__=x.exr', '--out', `${folder}/x.exr`],
    2,
    /__proto__ cannot be a name/,
  ],
  [
    'a folder that cannot be',
    ['run', finishFile('bare8.json', bare), '--media', media, '--frames', '1', '--out', '/proc/x/y.exr'],
    1,
    /\/proc\/x\/y\.exr /,
  ],
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
  [
    'a frame missing in the middle of a range',
    [
      'run',
      finishFile('bare6.json', bare),
      '--media',
      media,
      '--frames',
      '1-4',
      '--out',
      `${folder}/m.####.exr`,
    ],
    1,
    /^zafiro: Frame 3: .*hall\.0003\.exr is not there\. Render it/,
  ],
  [
    'a frame number of 16 digits',
    [
      'run',
      finishFile('bare7.json', bare),
      '--media',
      media,
      '--frames',
      '9007199254740993',
      '--out',
      'x.exr',
    ],
    1,
    /is no frame: their numbers go up to/,
  ],
  [
    'an encoding by the name of what every object has',
    [
      'run',
      finishFile('bare8.json', bare),
      '--media',
      media,
      '--encoding',
      'hall=constructor',
      '--out',
      'x.exr',
    ],
    2,
    /--encoding takes .*, not “constructor”/,
  ],
  [
    'a finish that is a pipe',
    ['run', join(folder, 'pipe.json'), '--media', media, '--out', 'x.exr'],
    1,
    /pipe\.json .*Name a file/,
  ],
  [
    'a frame that is a pipe',
    [
      'run',
      finishFile('bare9.json', bare),
      '--media',
      `hall=${folder}/pipe.0001.exr`,
      '--out',
      `${folder}/x.exr`,
    ],
    1,
    /pipe\.0001\.exr .*Name a file/,
  ],
  ['a folder to inspect', ['inspect', join(folder, 'notes')], 3, /is a folder/],
  [
    'a text to inspect',
    ['inspect', join(folder, 'text.json')],
    3,
    /text\.json: This is not a picture of a kind that Zafiro reads/,
  ],
];

test.each(mistakes)('%s: one clear line and a status that is not 0', async (_, args, status, line) => {
  const { code, err } = await zafiro(args);
  const last = err.trim().split('\n').pop()!;
  expect(last).toMatch(line);
  expect(code).toBe(status);
  if (args[0] !== 'polish') expect(err.trim().split('\n')).toHaveLength(1);
});

test('run writes floats, 8 and 16 bits, TIFF and PNG, by --format or by the ending', async () => {
  const run = (out: string, ...more: string[]) =>
    zafiro([
      'run',
      finishFile('bare.json', bare),
      '--media',
      media,
      '--frames',
      '1',
      '--out',
      `${folder}/${out}`,
      ...more,
    ]);
  const first = async (file: string) => {
    const opened = await openFile(readFileSync(`${folder}/${file}`));
    const { planes } = await opened.read(0, ['R', 'G', 'B', 'A']);
    return ['R', 'G', 'B', 'A'].map((c) => planes.get(c)![5]);
  };
  expect(await run('f.exr', '--format', 'exr32')).toMatchObject({ code: 0 });
  expect(await first('f.exr')).toEqual(premultiplied);
  expect(await run('f.tif', '--format', 'tiff32')).toMatchObject({ code: 0 });
  expect(await first('f.tif')).toEqual(premultiplied);
  expect(await run('i.tif')).toMatchObject({ code: 0 });
  const straight = [0.09375 / 0.5, 0.5, 1].map((v) => Math.round(encodeSrgb(v) * 65535));
  expect(await first('i.tif')).toEqual([...straight, 32768]);
  expect(await run('e.png', '--format', 'png8')).toMatchObject({ code: 0 });
  for (const [i, code] of (await first('e.png')).entries())
    expect(Math.abs(code - [...straight, 32768][i] / 257)).toBeLessThan(1);
  expect(await run('j.jpg', '--quality', '100')).toMatchObject({ code: 0 });
  expect((await openFile(readFileSync(`${folder}/j.jpg`))).info.format).toBe('jpeg');
  expect((await run('j.jpg', '--quality', '0')).err).toMatch(/--quality: The quality is at least 1/);
  expect(await run('p.exr', '--compression', 'piz')).toMatchObject({ code: 0 });
  expect((await openFile(readFileSync(`${folder}/p.exr`))).info.parts[0].compression).toBe('piz');
  expect((await run('p.exr', '--compression', 'zap')).err).toMatch(
    /--compression takes zip, zips, piz, rle, none/,
  );
  expect((await run('g.png', '--format', 'tiff16')).err).toMatch(/--out ends in \.tif for the format tiff16/);
  expect((await run('g.png', '--format', 'gif')).err).toMatch(/--format takes exr or exr32 or png16/);
});

test('what is built is not built again by the next command', async () => {
  const { out, err } = await zafiro(['build']);
  expect(out + err).not.toMatch(/Building/);
});

const trees: string[][] = [
  ...['run', 'watch', 'node', 'inspect', 'recipe', 'user', 'token', 'backup', 'restore', 'check'].map((c) => [
    c,
  ]),
  ...['clean', 'doctor', 'start', 'demo', 'recipe list', 'recipe import', 'recipe check', 'user add'].map(
    (c) => c.split(' '),
  ),
  ...['user password', 'user list', 'user remove', 'user admin', 'user role', 'token add'].map((c) =>
    c.split(' '),
  ),
];
test('every command says what it takes, with an example, and its version; none writes a file called --help', async () => {
  const version = (await zafiro(['--version'])).out;
  expect(version).toMatch(/^\d+\.\d+\.\d+\n$/);
  const check = async (words: string[]) => {
    const { code, out, err } = await zafiro([...words, words.length > 1 ? '-h' : '--help']);
    expect([code, err], words.join(' ')).toEqual([0, '']);
    expect(out).toContain(`Usage: zafiro ${words.join(' ')}`);
    expect(out).toContain(`Examples:\n  ./zafiro ${words[0]}`);
    if (words.length > 1) expect((await zafiro([...words, '--version'])).out).toBe(version);
  };
  for (let i = 0; i < trees.length; i += 3) await Promise.all(trees.slice(i, i + 3).map(check));
  expect(existsSync(join(root, '--help'))).toBe(false);
});
