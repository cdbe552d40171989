import { existsSync, readFileSync } from 'node:fs';

/** Processes whose time and memory are watched by whoever started them: the readers of the server, and the renderers of exports. */

/** Seconds that the reading of one file may take. */
export const mostReadSeconds = Number(process.env.ZAFIRO_READ_SECONDS) || 60;

/** Milliseconds between two looks at what a process takes. */
export const watchEvery = 200;

const pageSize = 4096;
/** util-linux: the kernel ends the child with this process, even by kill -9. */
const setpriv = '/usr/bin/setpriv';

/** Blocks of at least so many bytes go back to the host once they are free; else the C library keeps what fits no other block. */
const env = () => ({ ...process.env, MALLOC_MMAP_THRESHOLD_: String(2 ** 20) });

/** How such a process is forked. */
export const limitedFork = () =>
  existsSync(setpriv)
    ? { env: env(), execPath: setpriv, execArgv: ['--pdeathsig', 'KILL', '--', process.execPath] }
    : { env: env() };

/** Megabytes of memory that a process holds now; 0 once it has ended. */
export function megabytesOf(pid: number | undefined): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * pageSize) / 2 ** 20;
  } catch {
    return 0;
  }
}
