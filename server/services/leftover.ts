import { createHash } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, statSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { LaunchError } from './child';

/** What private servers, of a data folder and for it alone, share: the end of one that was left behind, and a place for their socket. */

const commandOf = (pid: number) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
};

/** A server of this folder that was left behind when its launcher was killed: ended first, cleanly. */
export async function endLeftover(program: string, folder: string, pidFile: string): Promise<void> {
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, 'utf8'));
  const isOurs = () => pid > 0 && commandOf(pid).includes(program) && commandOf(pid).includes(folder);
  if (!isOurs()) return;
  process.kill(pid, 'SIGTERM');
  for (let i = 0; isOurs(); i++) {
    if (i > 300)
      throw new LaunchError(
        `A process of an earlier start (${program}, ${pid}) does not end. End it, then start again.`,
      );
    await sleep(100);
  }
}

/**
 * Path of a socket: in the data folder, or, if that path is longer than the 107 characters that are allowed, in a folder of its own, which is
 * the same at each start.
 */
export function socketOf(folder: string, fileName: string): string {
  const near = join(folder, fileName);
  if (near.length < 100) return near;
  const name = createHash('sha1').update(folder).digest('hex').slice(0, 16);
  const own = join(tmpdir(), `zafiro-${userInfo().uid}-${name}`);
  mkdirSync(own, { recursive: true, mode: 0o700 });
  // Somebody else's folder of that name is none of ours.
  if (statSync(own).uid !== userInfo().uid)
    throw new LaunchError(
      `${own} belongs to somebody else. Remove it, or set ZAFIRO_DATA to a shorter path.`,
    );
  chmodSync(own, 0o700);
  return join(own, fileName);
}
