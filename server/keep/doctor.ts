import { spawnSync } from 'node:child_process';
import { accessSync, constants, existsSync, readFileSync, statfsSync } from 'node:fs';
import { createServer } from 'node:net';
import { availableParallelism, totalmem } from 'node:os';
import { dirname } from 'node:path';
import { dataFolder, dataPath } from '../base/data-folder';
import { isRunning } from './database';

/** Looks whether this machine has what Zafiro needs; each finding has its remedy. */

export type Look = { about: string; found: string; remedy?: string };

function programs(): Look[] {
  const wanted = [
    ['MariaDB', '/usr/sbin/mariadbd', '--version', 'apt-get install mariadb-server'],
    ['Redis', '/usr/bin/redis-server', '--version', 'apt-get install redis-server'],
    ['ffmpeg, for movies', '/usr/bin/ffmpeg', '-version', 'apt-get install ffmpeg'],
    [
      'setpriv, so that nothing is left running',
      '/usr/bin/setpriv',
      '--version',
      'apt-get install util-linux',
    ],
  ];
  const [major] = process.versions.node.split('.').map(Number);
  return [
    {
      about: 'Node.js',
      found: process.versions.node,
      ...(major < 20 ? { remedy: 'Install Node.js 20 or later.' } : {}),
    },
    ...wanted.map(([about, path, argument, install]) => {
      if (!existsSync(path)) return { about, found: 'missing', remedy: `Install it: ${install}` };
      const said = spawnSync(path, [argument], { encoding: 'utf8' });
      return { about, found: /\d+\.\d+[.\d]*/.exec(`${said.stdout}${said.stderr}`)?.[0] ?? 'there' };
    }),
  ];
}

const isFree = (port: number) =>
  new Promise<boolean>((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });

function machine(): Look[] {
  const memory = totalmem() / 2 ** 30;
  const cores = availableParallelism();
  return [
    {
      about: 'Memory',
      found: `${memory.toFixed(1)} GB`,
      ...(memory < 4 ? { remedy: 'Large frames need 8 GB and more: set ZAFIRO_LOCAL_FRAMES=1.' } : {}),
    },
    {
      about: 'Threads',
      found: String(cores),
      ...(cores < 2 ? { remedy: 'One thread plays slowly; let other machines render (--nodes).' } : {}),
    },
  ];
}

function disk(): Look[] {
  const folder = dataFolder();
  let there = folder;
  while (!existsSync(there)) there = dirname(there);
  const { bavail, bsize } = statfsSync(there);
  const free = (bavail * bsize) / 1e9;
  const found: Look[] = [
    {
      about: `Free on the disk of ${folder}`,
      found: `${free.toFixed(1)} GB`,
      ...(free < 2
        ? { remedy: 'Free some space (./zafiro clean), or set ZAFIRO_DATA to another disk.' }
        : {}),
    },
  ];
  try {
    accessSync(there, constants.W_OK);
  } catch {
    found.push({
      about: folder,
      found: 'may not be written',
      remedy: 'Change its owner, mount it writable, or set ZAFIRO_DATA to another folder.',
    });
  }
  return found;
}

/** What runs: does it answer, and with what the engine needs to share memory between its threads? */
async function running(): Promise<Look[]> {
  if (!isRunning()) {
    const free = await isFree(4750);
    return [
      { about: 'Zafiro', found: 'does not run on this data folder' },
      {
        about: 'Port 4750',
        found: free ? 'free' : 'taken by another program',
        ...(free ? {} : { remedy: 'Start with --port and another number.' }),
      },
    ];
  }
  const { address } = JSON.parse(readFileSync(dataPath('run.json'), 'utf8'));
  try {
    const health = await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(10_000) });
    const page = await fetch(`${address}/handbook`, { signal: AbortSignal.timeout(10_000) });
    const isolated =
      page.headers.get('cross-origin-opener-policy') === 'same-origin' &&
      page.headers.get('cross-origin-embedder-policy') === 'require-corp';
    const parts = (await health.json()) as { parts?: Record<string, string> };
    return [
      {
        about: 'Zafiro',
        found: health.ok ? `answers at ${address}` : `answers ${health.status}`,
        ...(health.ok ? {} : { remedy: `See the logs in ${dataPath('logs')}.` }),
      },
      ...Object.entries(parts.parts ?? {}).map(([part, state]) => ({
        about: `Its ${part}`,
        found: state,
        ...(state === 'ok' ? {} : { remedy: `It is started again by itself. See ${dataPath('logs')}.` }),
      })),
      {
        about: 'Isolation headers',
        found: isolated ? 'there' : 'missing',
        ...(isolated
          ? {}
          : {
              remedy: 'Something between browser and server takes them away: let the proxy pass all headers.',
            }),
      },
    ];
  } catch (error) {
    return [
      {
        about: 'Zafiro',
        found: `runs, but does not answer at ${address} (${(error as Error).message})`,
        remedy: 'Stop it with ./zafiro stop, and start it again.',
      },
    ];
  }
}

export const doctor = async (): Promise<Look[]> => [
  ...programs(),
  ...machine(),
  ...disk(),
  ...(await running()),
];
