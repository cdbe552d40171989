import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, openSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { createStream, type RotatingFileStream } from 'rotating-file-stream';

/** A message for the user, without a stack. */
export class LaunchError extends Error {}

/** util-linux, part of every Debian: the kernel ends the child when this process dies, even by kill -9. */
const setpriv = existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', '--pdeathsig', 'TERM', '--'] : [];

/** Logs are turned over at this size; the last few stay. Each file is written by one stream, whoever writes into it. */
const logs = new Map<string, RotatingFileStream>();
function logTo(path: string): RotatingFileStream {
  const known = logs.get(path);
  if (known) return known;
  const made = createStream(basename(path), {
    path: dirname(path),
    size: `${Math.ceil((Number(process.env.ZAFIRO_LOG_MEGABYTES) || 10) * 1024)}K`,
    maxFiles: 5,
    compress: 'gzip',
    history: `.${basename(path)}.history`,
    mode: 0o600,
  });
  // A full disk keeps nobody from work.
  for (const event of ['error', 'warning'] as const) made.on(event, () => {});
  logs.set(path, made);
  return made;
}

export type Child = { name: string; process: ChildProcess; ended: Promise<void>; alive(): boolean };

/**
 * Starts a process in a group of its own (Ctrl-C reaches only the launcher, which then stops all in order), its output
 * appended to `log`. It does not outlive this process. One that `talks` has a channel for messages, and a log that is turned over.
 */
export function start(
  name: string,
  command: string[],
  log: string,
  env: NodeJS.ProcessEnv = process.env,
  talks = false,
): Child {
  // Servers that go on by themselves, and say little, have a plain file: nothing breaks for them when this process is killed.
  const out = talks ? 'pipe' : openSync(log, 'a');
  const [file, ...args] = [...setpriv, ...command];
  const child = spawn(file, args, {
    detached: true,
    stdio: talks ? ['ignore', out, out, 'ipc'] : ['ignore', out, out],
    env: talks ? { ...env, ZAFIRO_BUS: '1' } : env,
  });
  child.stdout?.pipe(logTo(log), { end: false });
  child.stderr?.pipe(logTo(log), { end: false });
  if (talks) child.channel?.unref();
  let alive = true;
  const ended = new Promise<void>((resolve) => {
    const over = () => {
      alive = false;
      resolve();
    };
    child.once('exit', over);
    child.once('error', over);
  });
  return { name, process: child, ended, alive: () => alive };
}

/** Asks a child to end, and makes it after `patience` seconds. */
export async function stop(child: Child, patience = 8): Promise<void> {
  if (!child.alive()) return;
  child.process.kill('SIGTERM');
  const timer = setTimeout(() => {
    process.stderr.write(`zafiro: ${child.name} did not end within ${patience} s, and was killed.\n`);
    child.process.kill('SIGKILL');
  }, patience * 1000);
  await child.ended;
  clearTimeout(timer);
}
