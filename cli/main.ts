import { inspect } from './inspect';
import { node } from './node/node';
import { recipe } from './recipe';
import { run } from './run';
import { UsageError } from './usage';
import { watch } from './watch';

/** Each gives the exit status. */
const commands: Record<string, (args: string[]) => Promise<number>> = { run, watch, node, inspect, recipe };

const [name, ...args] = process.argv.slice(2);
try {
  const command = commands[name];
  if (!command) throw new UsageError(`There is no command “${name ?? ''}”. See ./zafiro help.`);
  process.exitCode = await command(args);
} catch (error) {
  const wrongWords =
    error instanceof UsageError || String((error as { code?: unknown }).code).startsWith('ERR_PARSE_ARGS');
  process.stderr.write(`zafiro: ${(error as Error).message.replaceAll('\n', ' ')}\n`);
  process.exitCode = wrongWords ? 2 : 1;
}
