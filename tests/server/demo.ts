import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { constants, copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ended, root, startInstance, temporaryFolder } from './instance';

/** The scenes, with the frames that are drawn of each: in what comes after them, the hall's second frame stands still. It takes ten seconds a frame. */
const scenes = { 'orrery-hall': 2, 'moth-and-comet': Number.POSITIVE_INFINITY };

/** The programs that draw the frames: others draw other frames. */
const programs = ['orrery-hall.mjs', 'orrery-hall-worker.mjs', 'moth-and-comet.mjs', 'kernels.wasm'];

/**
 * Puts the demo's first frames where a demo on this data folder would draw them. They are drawn once for all tests: else every test would have a renderer
 * beside it that takes both cores.
 */
async function putDemoFrames(data: string, last: number): Promise<void> {
  const hash = createHash('sha256');
  for (const program of programs) hash.update(readFileSync(join(root, 'dist', program)));
  const shared = join(root, 'dist/demo-frames', hash.digest('hex').slice(0, 12));
  for (const [scene, most] of Object.entries(scenes)) {
    const from = join(shared, scene);
    mkdirSync(from, { recursive: true });
    // One draws, others wait for it.
    const draw = spawn('flock', [
      `${from}.lock`,
      process.execPath,
      join(root, 'dist', `${scene}.mjs`),
      from,
      String(Math.min(last, most)),
    ]);
    const { code, err } = await ended(draw);
    if (code !== 0) throw new Error(`The frames of ${scene} could not be drawn: ${err}`);
    const to = join(data, 'demo', scene);
    mkdirSync(to, { recursive: true });
    for (const file of readdirSync(from)) {
      const [, name, number = '1', ending] = /^(.*\.)(\d{4})(\.\w+)$/.exec(file) ?? [];
      const copy = (target: string) =>
        existsSync(target) || copyFileSync(join(from, file), target, constants.COPYFILE_FICLONE);
      const frame = Number(number);
      if (frame <= last) copy(join(to, file));
      if (frame !== most) continue;
      for (let later = most + 1; later <= last; later++)
        copy(join(to, `${name}${String(later).padStart(4, '0')}${ending}`));
    }
  }
}

/** Starts the demo with that many frames, which are there already. */
export async function startDemo(last: number, data = temporaryFolder(), env: Record<string, string> = {}) {
  await putDemoFrames(data, last);
  return startInstance('demo', data, ['--frames', String(last)], env);
}
