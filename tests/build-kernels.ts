import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';

/** Before any test: the kernels' module, if it is missing or older than its sources. */
export default function setup() {
  const folder = 'core/kernels/assembly';
  const newest = Math.max(...readdirSync(folder).map((f) => statSync(`${folder}/${f}`).mtimeMs));
  if (existsSync('dist/kernels.wasm') && statSync('dist/kernels.wasm').mtimeMs > newest) return;
  const { status } = spawnSync(process.execPath, ['tools/build.mjs', 'kernels'], { stdio: 'inherit' });
  if (status !== 0) throw new Error('The kernels could not be built.');
}
