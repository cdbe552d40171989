import { spawnSync } from 'node:child_process';

/** Before any test: the kernels' module and the programs that tests start, unless the test command has just built them. */
export default function setup() {
  if (process.env.ZAFIRO_BUILT) return;
  const { status } = spawnSync(process.execPath, ['tools/build.mjs', 'programs'], { stdio: 'inherit' });
  if (status !== 0) throw new Error('The programs could not be built.');
}
