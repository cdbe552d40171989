import { randomFillSync } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import { processesOf, remove, temporaryFolder, zafiro } from './instance';

/** Frames that take more than they may are ended where they are rendered, and named; whoever asked goes on. */
const folder = temporaryFolder();
const small = temporaryFolder();
afterAll(() => [folder, small].forEach(remove));

beforeAll(async () => {
  // Noise cannot be packed: reading it takes a while on every machine.
  const [width, height] = [8000, 6000];
  const noise = randomFillSync(Buffer.alloc(width * height * 3));
  await sharp(noise, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 1 })
    .toFile(join(folder, 'large.0001.png'));
  const finish = newFinish('bare', 'Bare', { type: 'pass', media: 'large', pass: '' });
  writeFileSync(join(folder, 'bare.json'), JSON.stringify(finish));
});

const run = (env: Record<string, string>) =>
  zafiro(
    ['run', join(folder, 'bare.json'), '--media', `large=${folder}/large.####.png`].concat(
      '--out',
      join(folder, 'out.####.exr'),
    ),
    { ZAFIRO_DATA: folder, ...env },
  );

test('processes that end while they have nothing to do are no frame’s fault', async () => {
  process.env.ZAFIRO_DATA = small;
  // As the programs that are run have it: beside them lies what renders.
  const { renderPool } = (await import(
    '../../dist/render-pool.mjs' as string
  )) as typeof import('../../engine/node/pool');
  const pool = renderPool(1);
  const media = { small: { pattern: join(small, 'small.png') } };
  const finish = newFinish('bare', 'Bare', { type: 'pass', media: 'small', pass: '' });
  const job = (frame: number) => ({
    finish,
    media,
    frame,
    scale: 1,
    out: join(small, `small.${frame}.exr`),
    settings: { format: 'exr' as const },
  });
  await sharp({ create: { width: 8, height: 8, channels: 3, background: '#336699' } }).toFile(
    join(small, 'small.png'),
  );
  for (let frame = 1; frame <= 4; frame++) {
    expect(await pool.render(job(frame))).toMatchObject({ frame });
    for (const { pid, command } of processesOf(small))
      if (/render-process/.test(command)) process.kill(pid, 'SIGKILL');
    // By every second frame they have ended, but nobody here has heard of it yet: writing to them fails.
    if (frame % 2) Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 200);
  }
  await pool.close();
});

test('frames are rendered side by side where they fit into memory, else one after another by all threads: the same files', async () => {
  const { renderPool } = (await import(
    '../../dist/render-pool.mjs' as string
  )) as typeof import('../../engine/node/pool');
  const [width, height] = [640, 360];
  const pixels = Buffer.from(
    Uint8Array.from({ length: width * height * 3 }, (_, i) => (i % 977 === 0 ? 255 : i % 61)),
  );
  await sharp(pixels, { raw: { width, height, channels: 3 } }).toFile(join(small, 'lit.png'));
  let finish = newFinish('lit', 'Lit', { type: 'pass', media: 'lit', pass: '' });
  finish = addStep('main', 0, 'bloom', 'bloom').apply(finish);
  finish = addStep('main', 1, 'light-rays', 'rays').apply(finish);
  const rendered = async (megabytes: string) => {
    process.env.ZAFIRO_MEMORY_MEGABYTES = megabytes;
    const pool = renderPool(2);
    delete process.env.ZAFIRO_MEMORY_MEGABYTES;
    let most = 0;
    const count = () => {
      most = Math.max(most, processesOf(small).filter((p) => /render-process/.test(p.command)).length);
    };
    const counting = setInterval(count, 20);
    const outs = Array.from({ length: 6 }, (_, i) => join(small, `lit.${megabytes}.${i}.exr`));
    await Promise.all(
      outs.map(async (out, i) => {
        const media = { lit: { pattern: join(small, 'lit.png') } };
        await pool.render({
          finish,
          media,
          frame: i + 1,
          scale: 1,
          out,
          settings: { format: 'exr', carriesFinish: false },
        });
        count();
      }),
    );
    clearInterval(counting);
    await pool.close();
    return { most, files: outs.map((out) => readFileSync(out)) };
  };
  const [wide, narrow] = [await rendered('8000'), await rendered('10')];
  expect([wide.most, narrow.most]).toEqual([2, 1]);
  for (const [i, file] of narrow.files.entries()) {
    expect(file.equals(narrow.files[0])).toBe(true);
    expect(wide.files[i].equals(file)).toBe(true);
  }
});

describe('a frame', () => {
  test('whose file takes too long to read is ended and named', async () => {
    const { code, err } = await run({ ZAFIRO_READ_SECONDS: '0.05' });
    expect(code).not.toBe(0);
    expect(err).toMatch(/Frame 1: Reading .*large\.0001\.png took longer than 0\.05 s\. The file is/);
    expect(err.trim().split('\n')).toHaveLength(1);
  });

  test('that takes too much memory is ended and named', async () => {
    const { code, err } = await run({ ZAFIRO_RENDER_MEGABYTES: '150' });
    expect(code).not.toBe(0);
    expect(err).toMatch(/Frame 1: Rendering it took more than 150 MB.*raise ZAFIRO_RENDER_MEGABYTES/);
  });

  test('leaves neither files nor processes behind', () => {
    expect(readdirSync(folder).sort()).toEqual(['bare.json', 'large.0001.png']);
    expect(processesOf(folder).filter((p) => /render-process/.test(p.command))).toEqual([]);
  });
});
