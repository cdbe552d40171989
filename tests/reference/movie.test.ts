import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { MovieSettings } from '../../core/formats/export-formats';
import { makeMovie } from '../../engine/node/movie';

/** Movies, read back frame by frame by ffprobe and ffmpeg (Debian's). */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-movie-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const [width, height, count] = [131, 75, 9];
/** Slopes of colour, and a square that moves, so that frames are told from each other. */
const code = (frame: number, x: number, y: number, c: number) =>
  x >= frame * 12 && x < frame * 12 + 20 && y > 20 && y < 50 ? [230, 180, 40][c] : 40 + x + (c === 1 ? y : 0);
const frames = (bits: 8 | 16) => Array.from({ length: count }, (_, i) => join(folder, `f${bits}.${i}.png`));

beforeAll(async () => {
  for (let f = 0; f < count; f++) {
    const codes = Array.from({ length: width * height * 3 }, (_, i) => {
      const [p, c] = [Math.floor(i / 3), i % 3];
      return code(f, p % width, Math.floor(p / width), c);
    });
    const raw = { width, height, channels: 3 as const };
    await sharp(Uint8Array.from(codes), { raw }).png().toFile(frames(8)[f]);
    const deep = Uint16Array.from(codes, (v, i) => v * 257 + (i % 250));
    await sharp(deep, { raw }).toColourspace('rgb16').png().toFile(frames(16)[f]);
  }
});

const probe = (file: string) => {
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file];
  const { stdout, stderr } = spawnSync('ffprobe', args, { encoding: 'utf8' });
  if (stderr) throw new Error(stderr);
  return JSON.parse(stdout).streams[0];
};
/** Frames of a movie as codes. */
function decoded(file: string, format: 'rgb24' | 'rgb48le'): Buffer {
  const args = ['-v', 'error', '-i', file, '-sws_flags', 'accurate_rnd+full_chroma_int+bicubic'].concat(
    ...['-f', 'rawvideo', '-pix_fmt', format, 'pipe:1'],
  );
  const { stdout, stderr, status } = spawnSync('ffmpeg', args, { maxBuffer: 2 ** 28 });
  if (status !== 0) throw new Error(String(stderr));
  return stdout;
}

describe.each([
  ['h264', 'mp4', 'h264', 6],
  ['vp9', 'webm', 'vp9', 6],
] as const)('%s', (codec, ending, name, mostRms) => {
  test.each(['fine', 'good', 'small'] as const)(
    '%s: every frame in its order, within the codec’s error',
    async (quality) => {
      const out = join(folder, `${codec}-${quality}.${ending}`);
      const settings: MovieSettings = { codec, rate: 24, height: 0, quality };
      const bytes = await makeMovie(frames(8), out, settings);
      expect(bytes).toBe(readFileSync(out).length);
      const stream = probe(out);
      // The last odd column and row are left out: chroma is of half the size.
      expect([
        stream.codec_name,
        stream.width,
        stream.height,
        stream.r_frame_rate,
        Number(stream.nb_read_frames),
      ]).toEqual([...[name, 130, 74, '24/1', count]]);
      expect([stream.color_range, stream.color_space, stream.color_primaries]).toEqual([
        'tv',
        'bt709',
        'bt709',
      ]);
      const codes = decoded(out, 'rgb24');
      for (let f = 0; f < count; f++) {
        let sum = 0;
        for (let y = 0; y < 74; y++)
          for (let x = 0; x < 130; x++)
            for (let c = 0; c < 3; c++)
              sum += (codes[((f * 74 + y) * 130 + x) * 3 + c] - code(f, x, y, c)) ** 2;
        const rms = Math.sqrt(sum / (74 * 130 * 3));
        expect(rms).toBeLessThan(quality === 'small' ? 2 * mostRms : mostRms);
      }
    },
  );

  test('is brought to a height, and sides stay even', async () => {
    const out = join(folder, `${codec}-sized.${ending}`);
    await makeMovie(frames(8).slice(0, 2), out, { codec, rate: 23.976, height: 540, quality: 'small' });
    const stream = probe(out);
    expect([stream.width % 2, stream.height]).toEqual([0, 540]);
    expect(Math.abs(stream.width - (540 * width) / height)).toBeLessThanOrEqual(1);
    const [over, under] = stream.r_frame_rate.split('/').map(Number);
    expect(over / under).toBeCloseTo(23.976, 3);
  });
});

test('FFV1 keeps every code of 16 bits', async () => {
  const out = join(folder, 'whole.mkv');
  await makeMovie(frames(16), out, { codec: 'ffv1', rate: 25, height: 0, quality: 'good' });
  const stream = probe(out);
  expect([stream.codec_name, stream.width, stream.height, Number(stream.nb_read_frames)]).toEqual([
    'ffv1',
    width,
    height,
    count,
  ]);
  const raw = decoded(out, 'rgb48le');
  const values = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
  expect(values).toHaveLength(width * height * 3 * count);
  for (let f = 0; f < count; f++)
    for (let i = 0; i < width * height * 3; i++) {
      const [p, c] = [Math.floor(i / 3), i % 3];
      const want = code(f, p % width, Math.floor(p / width), c) * 257 + (i % 250);
      if (values[f * width * height * 3 + i] !== want) throw new Error(`frame ${f}, code ${i}`);
    }
});

test('what cannot be made is said, and leaves nothing behind', async () => {
  const out = join(folder, 'none', 'a.mp4');
  const settings: MovieSettings = { codec: 'h264', rate: 24, height: 0, quality: 'good' };
  await expect(makeMovie(frames(8), out, settings)).rejects.toThrow(/ffmpeg ended with 1: .*No such file/);
  const gone = [...frames(8), join(folder, 'gone.png')];
  await expect(makeMovie(gone, join(folder, 'b.mp4'), settings)).rejects.toThrow(
    /gone\.png is not there any more/,
  );
  writeFileSync(join(folder, 'broken.png'), 'no picture');
  await expect(makeMovie([join(folder, 'broken.png')], join(folder, 'c.mp4'), settings)).rejects.toThrow(
    /ffmpeg ended/,
  );
  const abort = new AbortController();
  const work = makeMovie(
    Array.from({ length: 40 }, () => frames(8)).flat(),
    join(folder, 'd.mp4'),
    settings,
    abort.signal,
  );
  setTimeout(() => abort.abort(), 50);
  await expect(work).rejects.toThrow();
  // However early or late it is ended: a process that was ended may be just opening its file.
  for (let wait = 0; wait < 120; wait += 5) {
    const early = new AbortController();
    setTimeout(() => early.abort(), wait);
    await expect(
      makeMovie([...gone, ...gone], join(folder, 'e.mp4'), settings, wait ? early.signal : undefined),
    ).rejects.toThrow();
  }
  for (const name of ['b', 'c', 'd', 'e']) expect(existsSync(join(folder, `${name}.mp4`))).toBe(false);
  expect(readdirSync(folder).filter((n) => n.endsWith('.part'))).toEqual([]);
});
