import { chmodSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { openRedis } from '../base/redis';
import { type Child, LaunchError, start } from './child';
import { endLeftover, socketOf } from './leftover';

const program = '/usr/bin/redis-server';

/**
 * Starts a Redis of our own, with its files in `folder`, and waits until it answers. It is reached through a socket alone; what it is told is on disk
 * within a second (append-only file).
 */
export async function startRedis(folder: string): Promise<{ child: Child; url: string }> {
  try {
    return await begin(folder);
  } catch (error) {
    // The rows of the database are the truth: without its files it begins anew, and the order is made again from them.
    const aside = `${folder}-garbled-${new Date().toISOString().replace(/[:.]/g, '-')}`;
    if (!(error instanceof EndedAtOnce) || !isGarbled(error.said)) throw error;
    renameSync(folder, aside);
    process.stderr.write(
      `zafiro: the files of Redis could not be read and were set aside (${aside}). Nothing is lost: what waits is put into the order again.\n`,
    );
    return begin(folder);
  }
}

class EndedAtOnce extends LaunchError {
  constructor(
    log: string,
    readonly said: string,
  ) {
    super(`Redis did not start. See ${log}.`);
  }
}

/** Whether Redis says that what it finds in its folder cannot be read. */
const isGarbled = (said: string) =>
  /Bad file format|Fatal error loading|Error reading|Unrecoverable error|manifest file/i.test(said);

async function begin(folder: string): Promise<{ child: Child; url: string }> {
  if (!existsSync(program))
    throw new LaunchError('Redis is not installed. Install it: apt-get install redis-server');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chmodSync(folder, 0o700);
  const pidFile = join(folder, 'redis.pid');
  await endLeftover('redis-server', folder, pidFile);
  const socket = socketOf(folder, 'redis.sock');
  rmSync(socket, { force: true });
  const log = join(folder, 'redis.log');
  const begun = existsSync(log) ? readFileSync(log, 'utf8').length : 0;
  const child = start(
    'redis',
    [
      program,
      ...['--port', '0', '--unixsocket', socket, '--unixsocketperm', '700'],
      ...['--dir', folder, '--pidfile', pidFile, '--daemonize', 'no', '--set-proc-title', 'no'],
      ...['--appendonly', 'yes', '--appendfsync', 'everysec', '--save', ''],
      // What is held is never dropped for want of room.
      ...['--maxmemory-policy', 'noeviction', '--loglevel', 'warning'],
      // A file that was torn when the machine went down is mended: the rows of the database are the truth.
      ...['--aof-load-truncated', 'yes'],
    ],
    log,
  );
  process.env.ZAFIRO_REDIS_URL = socket;
  const redis = openRedis();
  try {
    for (let i = 0; i < 400; i++) {
      if (!child.alive()) throw new EndedAtOnce(log, readFileSync(log, 'utf8').slice(begun));
      const answered = await Promise.race([redis.ping().catch(() => ''), sleep(200)]);
      if (answered === 'PONG') return { child, url: socket };
      await sleep(50);
    }
    throw new LaunchError(`Redis does not answer. See ${log}.`);
  } finally {
    redis.disconnect();
  }
}
