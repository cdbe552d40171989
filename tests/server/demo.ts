import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { constants, copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ended, root, startInstance, temporaryFolder } from './instance';

const scenes = ['orrery-hall', 'moth-and-comet'] as const;

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
  for (const scene of scenes) {
    const from = join(shared, scene);
    mkdirSync(from, { recursive: true });
    // One draws, others wait for it.
    const draw = spawn('flock', [
      `${from}.lock`,
      process.execPath,
      join(root, 'dist', `${scene}.mjs`),
      from,
      String(last),
    ]);
    const { code, err } = await ended(draw);
    if (code !== 0) throw new Error(`The frames of ${scene} could not be drawn: ${err}`);
    const to = join(data, 'demo', scene);
    mkdirSync(to, { recursive: true });
    for (const file of readdirSync(from)) {
      const frame = Number(/\.(\d{4})\.\w+$/.exec(file)?.[1] ?? 1);
      const target = join(to, file);
      if (frame <= last && !existsSync(target))
        copyFileSync(join(from, file), target, constants.COPYFILE_FICLONE);
    }
  }
}

/** Starts the demo with that many frames, which are there already. */
export async function startDemo(last: number, data = temporaryFolder(), env: Record<string, string> = {}) {
  await putDemoFrames(data, last);
  return startInstance('demo', data, ['--frames', String(last)], env);
}
