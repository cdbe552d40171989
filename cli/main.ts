import { commandLine, completed, declared, obey, UsageError } from '../engine/node/command-line';
import { declareInspect } from './inspect';
import { declareNode } from './node/node';
import { declareRecipe } from './recipe';
import { declareRun } from './run';
import { declareWatch } from './watch';

const program = commandLine('Finishes rendered frames and animation layers.');
for (const declare of [declareRun, declareWatch, declareNode, declareInspect, declareRecipe])
  declare(program);
/** What the launcher does by other programs: known here, so that whoever mistypes one is told the nearest. */
const others = {
  demo: 'Starts with the demo shots.',
  start: 'Starts without them.',
  stop: 'Stops what runs on this data folder.',
  user: 'Accounts, and what they may do.',
  token: 'Tokens for scripts and machines.',
  backup: 'All that is kept, in one file.',
  restore: 'Puts a backup into an empty data folder.',
  check: 'Checks that everything Zafiro keeps is there and correct.',
  clean: 'Frees what is not needed any more.',
  doctor: 'Whether this machine has what Zafiro needs.',
};
for (const [name, about] of Object.entries(others)) declared(program, name, about, []);
completed(program);

try {
  await obey(program, process.argv.slice(2));
} catch (error) {
  process.stderr.write(`zafiro: ${(error as Error).message.replaceAll('\n', ' ')}\n`);
  process.exitCode = error instanceof UsageError ? 2 : 1;
}
