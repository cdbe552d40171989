import { spawn } from 'node:child_process';
import { createReadStream, existsSync } from 'node:fs';
import { open, rename, rm } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { MovieSettings } from '../../core/formats/export-formats';

/** A movie could not be made, in words for the user. */
export class MovieError extends Error {}

const program = '/usr/bin/ffmpeg';
/** What a movie may take: seconds of a processor for each frame and besides, and gigabytes of addresses. */
const [secondsAFrame, secondsBesides, mostGigabytes] = [30, 120, 16];

const crf = {
  h264: { fine: 14, good: 19, small: 26 },
  vp9: { fine: 18, good: 26, small: 36 },
} as const;

/** Codes are sRGB (H.273, transfer 13) of the primaries of BT.709; what is for screens is in its matrix, of limited range. */
const colours = ['-color_primaries', 'bt709', '-color_trc', 'iec61966-2-1'];
const subsampled = ['-pix_fmt', 'yuv420p', ...colours, '-colorspace', 'bt709', '-color_range', 'tv'];

function encoder({ codec, quality }: MovieSettings): string[] {
  switch (codec) {
    case 'h264':
      return [
        '-c:v',
        'libx264',
        '-preset',
        'medium',
        '-crf',
        String(crf.h264[quality]),
        ...subsampled,
      ].concat('-movflags', '+faststart', '-f', 'mp4');
    case 'vp9':
      return [
        '-c:v',
        'libvpx-vp9',
        '-crf',
        String(crf.vp9[quality]),
        '-b:v',
        '0',
        '-deadline',
        'good',
      ].concat(...['-cpu-used', '4', '-row-mt', '1'], ...subsampled, ...['-f', 'webm']);
    case 'ffv1':
      return ['-c:v', 'ffv1', '-level', '3', '-g', '1', '-slices', '4', '-slicecrc', '1'].concat(
        ...['-pix_fmt', 'gbrp16le'],
        ...colours,
        ...['-f', 'matroska'],
      );
  }
}

/** Pictures for screens have even sides: chroma is of half the size. */
function filter({ codec, height }: MovieSettings): string {
  if (codec === 'ffv1') return height ? `scale=-1:${height}:flags=area` : 'null';
  const size = height ? `scale=-2:${height}:flags=area+accurate_rnd,` : 'crop=trunc(iw/2)*2:trunc(ih/2)*2,';
  return `${size}scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int`;
}

/** The bytes of files, one after the other. */
async function* filesIn(paths: readonly string[]) {
  for (const path of paths) yield* createReadStream(path);
}

/**
 * Makes a movie of PNG files, in their order, by ffmpeg (Debian's) in a process with limits of time and memory; under its name there is nothing, or all of
 * it. Gives its bytes.
 * @throws {MovieError}
 */
export async function makeMovie(
  frames: readonly string[],
  out: string,
  settings: MovieSettings,
  signal?: AbortSignal,
): Promise<number> {
  if (!existsSync(program))
    throw new MovieError('ffmpeg is not installed. Install it: apt-get install ffmpeg');
  const part = `${out}.part`;
  const most = secondsBesides + secondsAFrame * frames.length;
  const limits = [`--cpu=${most}`, `--as=${mostGigabytes * 2 ** 30}`, '--core=0'];
  const args = [
    ...['-hide_banner', '-loglevel', 'error', '-nostdin', '-y', '-protocol_whitelist', 'file,pipe'],
    ...['-f', 'image2pipe', '-c:v', 'png', '-framerate', String(settings.rate), '-i', 'pipe:0'],
    ...['-vf', filter(settings), ...encoder(settings), part],
  ];
  const child = spawn('/usr/bin/prlimit', [...limits, '--', program, ...args], {
    stdio: ['pipe', 'ignore', 'pipe'],
    signal: AbortSignal.any([AbortSignal.timeout(most * 4000), ...(signal ? [signal] : [])]),
    killSignal: 'SIGKILL',
  });
  let said = '';
  child.stderr.on('data', (d) => {
    if (said.length < 4000) said += d;
  });
  const closed = new Promise<number | null>((done) => child.once('close', done));
  const failed = new Promise<never>((_, fail) => child.once('error', fail));
  failed.catch(() => {});
  try {
    // What it does not take any more it says itself.
    await pipeline(filesIn(frames), child.stdin).catch((error) => {
      if (error.code === 'ENOENT')
        throw new MovieError(`${error.path} is not there any more. Export it again.`);
      if (error.code !== 'EPIPE' && error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
    });
    const code = await Promise.race([closed, failed]);
    if (code !== 0)
      throw new MovieError(
        `ffmpeg ended${code === null ? '' : ` with ${code}`}: ${said.trim().split('\n').at(-1) || 'it took too much time or memory'}`,
      );
    const file = await open(part, 'r');
    try {
      await file.sync();
      const { size } = await file.stat();
      await rename(part, out);
      return size;
    } finally {
      await file.close();
    }
  } catch (error) {
    // A process that is being ended may still make its file: it is taken away when the process is gone.
    child.kill('SIGKILL');
    if (child.pid !== undefined) await closed;
    await rm(part, { force: true });
    throw error;
  }
}
