import { availableParallelism, hostname, tmpdir, totalmem } from 'node:os';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { buildOf } from '../../engine/node/build-id';
import { renderPool } from '../../engine/node/pool';
import { named } from '../finish-options';
import { UsageError } from '../usage';
import { runMachine } from './machine';
import type { PathMap } from './media';

const usage =
  'zafiro node --server URL --token T [--name N] [--map /THERE=/HERE]… [--frames N] [--work FOLDER] [--cache GIGABYTES]';

/**
 * `zafiro node`: makes this machine render for a server, until it is stopped.
 */
export async function node(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      server: { type: 'string' },
      token: { type: 'string', default: process.env.ZAFIRO_NODE_TOKEN },
      name: { type: 'string', default: hostname() },
      map: { type: 'string', multiple: true, default: [] },
      frames: { type: 'string', default: String(availableParallelism()) },
      work: { type: 'string', default: tmpdir() },
      cache: { type: 'string', default: '20' },
    },
  });
  if (positionals.length > 0 || !values.server || !values.token) throw new UsageError(`Use: ${usage}`);
  if (!URL.canParse(values.server))
    throw new UsageError('--server takes an address such as http://10.0.0.5:4751.');
  const [places, gigabytes] = [Number(values.frames), Number(values.cache)];
  if (!Number.isInteger(places) || places < 1 || places > 64)
    throw new UsageError('--frames takes a number from 1 to 64.');
  if (!(gigabytes > 0)) throw new UsageError('--cache takes a number of gigabytes above 0.');
  const map: PathMap = Object.entries(named('map', values.map)).map(([there, here]) => ({
    there: there.replace(/\/+$/, ''),
    here: resolve(here),
  }));

  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => stop.abort());
  const say = (text: string) => process.stdout.write(`${text}\n`);
  const self = {
    name: values.name.slice(0, 100),
    cores: availableParallelism(),
    megabytes: Math.round(totalmem() / 2 ** 20),
    places,
    build: buildOf(fileURLToPath(new URL('.', import.meta.url))),
  };
  const pool = renderPool(places);
  const { server, token } = values;
  const cacheBytes = gigabytes * 2 ** 30;
  await runMachine({ server, token, work: resolve(values.work), map, cacheBytes, self, pool, stop }, say);
  return 0;
}
