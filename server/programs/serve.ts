import { chmodSync, existsSync, mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { buildOf } from '../../engine/node/build-id';
import { commandLine, completed, declared, obey, repeated, UsageError } from '../../engine/node/command-line';
import { countAdmins } from '../access/accounts';
import { closeDatabase } from '../base/connect';
import { dataFolder, dataPath } from '../base/data-folder';
import { migrate, NewerData } from '../base/migrate';
import { correctTimeZone } from '../base/time-zone';
import { copyBefore } from '../keep/copies';
import { followMove } from '../keep/moved';
import { nodeToken } from '../nodes/token';
import { seedDemo } from '../seed/demo';
import { mothAndCometFolder } from '../seed/moth-and-comet';
import { orreryHallFolder } from '../seed/orrery-hall';
import { seedRecipes } from '../seed/recipes';
import { type Child, LaunchError, start, stop } from '../services/child';
import { startMariaDb } from '../services/mariadb';
import { startRedis } from '../services/redis';

/**
 * `serve demo|start`: the one process that starts all others, watches them, and stops them in order. Run from the
 * checkout, after the build.
 */
/** Below this a warning is printed; below `leastToStart` the database could not open its files. */
const enoughSpace = 500 * 1024 * 1024;
const leastToStart = 48 * 1024 * 1024;

/** When the process began, so that a number that was given to another process is not taken for it. */
function startedAt(pid: number): string | undefined {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return;
  }
}

function refuseSecond(runFile: string) {
  if (!existsSync(runFile)) return;
  try {
    const { pid, started, address } = JSON.parse(readFileSync(runFile, 'utf8'));
    if (startedAt(pid) === started && started !== undefined) {
      throw new LaunchError(
        `Zafiro already runs on this data folder: ${address} (process ${pid}). Use it, or stop it with ./zafiro stop.`,
      );
    }
  } catch (error) {
    if (error instanceof LaunchError) throw error;
  }
}

function checkSpace(folder: string) {
  const { bavail, bsize } = statfsSync(folder);
  const left = bavail * bsize;
  const words = `${Math.round(left / 1024 / 1024)} MB are left on the disk of ${folder}`;
  if (left < leastToStart)
    throw new LaunchError(
      `${words}, 48 MB are needed to start. Free some space, or set ZAFIRO_DATA to another disk.`,
    );
  if (left < enoughSpace)
    process.stderr.write(
      `zafiro: ${words}. Looking works; saves and exports wait while there is too little.\n`,
    );
}

const checkPort = (port: number, host = '127.0.0.1') =>
  new Promise<void>((done, reject) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRNOTAVAIL')
        return reject(
          new LaunchError(
            `${host} is no address of this machine. Choose one of those that “ip address” lists.`,
          ),
        );
      const why = error.code === 'EACCES' ? 'may not be used by you' : 'is taken by another program';
      reject(new LaunchError(`Port ${port} ${why}. Choose another, such as ${port + 1}.`));
    });
    probe.listen(port, host, () => probe.close(() => done()));
  });

type Words = {
  port: string;
  frames?: string;
  nodes?: string;
  host?: string;
  name: string[];
  behindProxy?: string;
};

const program = commandLine('Starts Zafiro.');
const serving = (name: string, about: string, examples: string[]) =>
  declared(program, name, about, examples)
    .option('--port <NUMBER>', 'where pages are', '4750')
    .option('--nodes <ADDRESS:PORT>', 'lets other machines render for it, there')
    .option('--host <ADDRESS>', 'lets others reach it there: everybody signs in; TLS is the proxy’s')
    .addOption(repeated('--name <NAME>', 'another name that it is reached by'))
    .option('--behind-proxy <ADDRESS>', 'what users type, such as https://zafiro.studio.example');
serving('start', 'Starts without demo data.', [
  'start',
  'start --host 10.0.0.5 --name zafiro.studio.example',
  'start --nodes 10.0.0.5:4751',
]).action((words: Words) => main(false, words));
serving('demo', 'Starts with the demo shots, which are rendered meanwhile.', ['demo', 'demo --frames 6'])
  .option('--frames <NUMBER>', 'of the demo shots, 1 to 24', '24')
  .action((words: Words) => main(true, words));
completed(program);

function options(demo: boolean, values: Words) {
  const port = Number(values.port);
  const frames = Number(values.frames ?? 24);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new LaunchError('--port takes a number from 1 to 65535.');
  if (!Number.isInteger(frames) || frames < 1 || frames > 24)
    throw new LaunchError('--frames takes a number from 1 to 24.');
  const host = values.host ?? '127.0.0.1';
  return {
    demo,
    port,
    frames,
    nodes: listening(values.nodes),
    host,
    names: [host, ...values.name].map((name) => name.toLowerCase()),
    // Whoever is not at this machine signs in.
    shared: !/^(127\.\d+\.\d+\.\d+|localhost|::1)$/.test(host) || values.behindProxy !== undefined,
    publicAt: publicAddress(values.behindProxy),
  };
}

/** The address under which a proxy with TLS passes requests on. */
function publicAddress(text: string | undefined): string | undefined {
  if (text === undefined) return;
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (!url || !/^https?:$/.test(url.protocol) || url.pathname !== '/')
    throw new LaunchError(
      '--behind-proxy takes the address that users type, such as https://zafiro.studio.example.',
    );
  return url.origin;
}

type Listening = { host: string; port: number };

/** Where machines reach the server that render for it: an address of this machine and a port. */
function listening(text: string | undefined): Listening | undefined {
  if (text === undefined) return;
  const [, host, port] = /^(.+):(\d{1,5})$/.exec(text) ?? [];
  if (!host || Number(port) < 1 || Number(port) > 65535)
    throw new LaunchError('--nodes takes an address of this machine and a port, such as 10.0.0.5:4751.');
  return { host: host.replace(/^\[|\]$/g, ''), port: Number(port) };
}

const addressOf = ({ host, port }: Listening) => `http://${host.includes(':') ? `[${host}]` : host}:${port}`;

/** Children by name, how to start each again, in the order in which they are stopped. */
const children = new Map<string, Child>();
let stopping = false;

/** Messages of one child are forwarded to the others: see `server/changes/bus.ts`. */
function passOn(from: Child) {
  from.process.on('message', (message) => {
    for (const other of children.values())
      if (other !== from && other.process.connected) other.process.send(message as object, () => {});
  });
}

/** Pauses before a process that ended is started again, in seconds; one that ran for a minute begins with the first again. */
const pauses = [0.5, 1, 2, 4, 8, 15, 30];
const steadyMillis = 60_000;

/** Starts a child and, if it ends without being asked, starts it again after a pause that grows as it goes on ending. */
async function keep(name: string, begin: () => Child | Promise<Child>, failures = 0): Promise<void> {
  const began = performance.now();
  const child = await begin();
  children.set(name, child);
  passOn(child);
  child.ended.then(async () => {
    if (stopping) return;
    const again = performance.now() - began > steadyMillis ? 0 : failures;
    const pause = pauses[Math.min(again, pauses.length - 1)];
    process.stderr.write(`zafiro: ${name} ended unexpectedly and is started again in ${pause} s.\n`);
    await sleep(pause * 1000);
    if (!stopping) await restart(name, begin, again + 1);
  });
}

/** A start that fails is tried again too: what keeps it from starting may pass. */
async function restart(name: string, begin: () => Child | Promise<Child>, failures: number): Promise<void> {
  try {
    await keep(name, begin, failures);
  } catch (error) {
    process.stderr.write(`zafiro: ${name} could not be started: ${(error as Error).message}\n`);
    await sleep(pauses[Math.min(failures, pauses.length - 1)] * 1000);
    if (!stopping) await restart(name, begin, failures + 1);
  }
}

/** A server that answers nothing for so long, while its database does, hangs: it is ended, and started again like one that ended itself. */
const patienceMillis = (Number(process.env.ZAFIRO_PATIENCE_SECONDS) || 10) * 1000;
const mostSilences = 4;
function watchServer(address: string) {
  let silences = 0;
  let watched: Child | undefined;
  const look = async () => {
    if (stopping) return;
    const server = children.get('server');
    if (server !== watched) [watched, silences] = [server, 0];
    // Any answer will do: one that says that the database is away is one.
    const answered = await fetch(`${address}/api/health`, {
      signal: AbortSignal.timeout(patienceMillis),
    }).then(
      () => true,
      (error: Error) => error.name !== 'TimeoutError',
    );
    silences = answered ? 0 : silences + 1;
    if (silences >= mostSilences && server?.alive() && server === children.get('server')) {
      process.stderr.write('zafiro: the server does not answer and is ended.\n');
      server.process.kill('SIGKILL');
      silences = 0;
    }
    setTimeout(look, 5000).unref();
  };
  setTimeout(look, 5000).unref();
}

async function answers(address: string) {
  for (let i = 0; i < 600; i++) {
    const status = await fetch(`${address}/api/health`).then(
      (r) => r.status,
      () => 0,
    );
    if (status === 200) return;
    if (status === 403)
      throw new LaunchError(
        `The server does not know ${address} as its own. Name it: ./zafiro start --host ADDRESS --name NAME.`,
      );
    await sleep(50);
  }
  throw new LaunchError(`The server does not answer. See ${dataPath('logs', 'next.log')}.`);
}

async function main(isDemo: boolean, words: Words) {
  const { demo, port, frames, nodes, host, names, shared, publicAt } = options(isDemo, words);
  const began = performance.now();
  const folder = dataFolder();
  // What Zafiro keeps is for whoever started it; what it delivers elsewhere is as their other files are.
  const umask = process.umask(0o077);
  process.env.ZAFIRO_EXPORT_MODE ??= (0o666 & ~umask).toString(8);
  try {
    mkdirSync(join(folder, 'logs'), { recursive: true, mode: 0o700 });
    chmodSync(folder, 0o700);
  } catch (error) {
    throw new LaunchError(`The data folder ${folder} cannot be made: ${(error as Error).message}`);
  }
  const runFile = join(folder, 'run.json');
  refuseSecond(runFile);
  checkSpace(folder);
  await checkPort(port, host);
  if (nodes) await checkPort(nodes.port, nodes.host);
  const address = addressOf({ host: /^(0\.0\.0\.0|::)$/.test(host) ? '127.0.0.1' : host, port });
  writeFileSync(runFile, JSON.stringify({ pid: process.pid, started: startedAt(process.pid), address }));

  const shutDown = async (code: number) => {
    if (stopping) return;
    stopping = true;
    await closeDatabase().catch(() => {});
    const { mariadb, redis, ...others } = Object.fromEntries(children);
    await Promise.all(Object.values(others).map((c) => stop(c)));
    if (redis) await stop(redis, 20);
    // Last and with patience: it writes what it holds.
    if (mariadb) await stop(mariadb, 60);
    rmSync(runFile, { force: true });
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => shutDown(0));

  try {
    const log = (name: string) => dataPath('logs', `${name}.log`);
    const node = (...args: string[]) => [process.execPath, ...args];
    /** Makes the frames of a demo shot meanwhile; the nicer, the later they come. */
    const draw = (name: string, program: string, folder: string, nice: number) => {
      mkdirSync(folder, { recursive: true });
      const child = start(
        name,
        ['nice', '-n', String(nice), ...node(`dist/${program}.mjs`, folder, String(frames))],
        log(name),
      );
      children.set(name, child);
      child.ended.then(() => {
        if (child.process.exitCode && !stopping)
          process.stderr.write(`zafiro: what makes the demo shot stopped. See ${log(name)}.\n`);
      });
    };
    if (demo) {
      draw('renderer', 'orrery-hall', orreryHallFolder(), 5);
      draw('drawings', 'moth-and-comet', mothAndCometFolder(), 10);
    }
    if (!process.env.ZAFIRO_DATABASE_URL) {
      // Where it is reached stays the same, so those who use it go on once it is back.
      await keep('mariadb', async () => {
        const { child, url } = await startMariaDb(resolve(folder, 'mariadb'));
        process.env.ZAFIRO_DATABASE_URL = url;
        return child;
      });
    }
    if (!process.env.ZAFIRO_REDIS_URL) {
      await keep('redis', async () => {
        const { child, url } = await startRedis(resolve(folder, 'redis'));
        process.env.ZAFIRO_REDIS_URL = url;
        return child;
      });
    }
    await migrate('server/base/migrations', copyBefore).catch((error) => {
      throw error instanceof NewerData ? new LaunchError(error.message) : error;
    });
    await correctTimeZone();
    await followMove();
    if (shared && (await countAdmins()) === 0)
      throw new LaunchError(
        'Others can reach this server, so everybody signs in, and nobody can yet. Make a first administrator: ./zafiro user add NAME --admin',
      );
    await seedRecipes();
    if (demo) await seedDemo(frames);
    const env: NodeJS.ProcessEnv = {
      ...process.env,
      ZAFIRO_DATA: folder,
      ZAFIRO_NAMES: names.join(','),
      ZAFIRO_BUILD: buildOf('dist'),
      ...(nodes
        ? {
            ZAFIRO_NODES_AT: addressOf(nodes),
          }
        : {}),
      ...(shared ? { ZAFIRO_SIGN_IN: '1' } : {}),
      ...(publicAt ? { ZAFIRO_PUBLIC: publicAt } : {}),
      NODE_ENV: 'production',
      NEXT_TELEMETRY_DISABLED: '1',
    };
    const serve = (name: string, at: Listening, more: Record<string, string> = {}) =>
      keep(name, () =>
        start(
          name,
          node(
            ...['--import', './dist/peer.mjs'],
            'node_modules/next/dist/bin/next',
            ...['start', '-H', at.host, '-p', String(at.port), '--keepAliveTimeout', '65000'],
          ),
          log(name === 'server' ? 'next' : name),
          { ...env, ...more },
          true,
        ),
      );
    await serve('server', { host, port });
    // The same program once more, which answers to machines alone.
    if (nodes) await serve('machines', nodes, { ZAFIRO_SERVES: 'machines' });
    // Nice, so that what is looked at comes first on a machine with few cores.
    await keep('exports', () =>
      start('exports', ['nice', '-n', '5', ...node('dist/exports.mjs')], log('exports'), env, true),
    );
    await answers(address);
    watchServer(address);
    const seconds = ((performance.now() - began) / 1000).toFixed(1);
    process.stdout.write(`Zafiro is ready at ${publicAt ?? address} (${seconds} s). Stop it with Ctrl-C.\n`);
    if (nodes)
      process.stdout.write(
        `Other machines render for it with: ./zafiro node --server ${env.ZAFIRO_NODES_AT} --token ${shared ? 'TOKEN (an administrator makes one on the page Account)' : nodeToken()}\n`,
      );
  } catch (error) {
    process.stderr.write(
      `zafiro: ${error instanceof LaunchError ? error.message : (error as Error).stack}\n`,
    );
    await shutDown(1);
  }
}

obey(program, process.argv.slice(2)).catch((error) => {
  const known = error instanceof LaunchError || error instanceof UsageError;
  process.stderr.write(`zafiro: ${known ? error.message : error.stack}\n`);
  process.exit(error instanceof UsageError ? 2 : 1);
});
