import { availableParallelism, hostname, tmpdir, totalmem } from 'node:os';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Command } from 'commander';
import { buildOf } from '../../engine/node/build-id';
import { declared, repeated, UsageError } from '../../engine/node/command-line';
import { renderPool } from '../../engine/node/pool';
import { named } from '../finish-options';
import { runMachine } from './machine';
import type { PathMap } from './media';

type Words = {
  server: string;
  token?: string;
  name: string;
  map: string[];
  frames: string;
  work: string;
  cache: string;
};

/** `zafiro node`. */
export const declareNode = (program: Command): void =>
  void declared(program, 'node', 'Makes this machine render for a server, until it is stopped.', [
    'node --server http://10.0.0.5:4751 --token TOKEN --map /renders=/mnt/renders',
  ])
    .requiredOption('--server <URL>', 'where the server takes machines (its --nodes)')
    .option('--token <TOKEN>', 'what lets it in; ZAFIRO_NODE_TOKEN without it')
    .option('--name <NAME>', 'what it is called there', hostname())
    .addOption(repeated('--map </THERE=/HERE>', 'a folder of the server, and its name on this machine'))
    .option('--frames <NUMBER>', 'rendered at a time', String(availableParallelism()))
    .option('--work <FOLDER>', 'where copies lie meanwhile', tmpdir())
    .option('--cache <GIGABYTES>', 'for copies of media', '20')
    .action(node);

async function node(values: Words): Promise<void> {
  const token = values.token ?? process.env.ZAFIRO_NODE_TOKEN;
  if (!token) throw new UsageError('Name the --token, or set ZAFIRO_NODE_TOKEN.');
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
  const { server } = values;
  const cacheBytes = gigabytes * 2 ** 30;
  await runMachine({ server, token, work: resolve(values.work), map, cacheBytes, self, pool, stop }, say);
}
