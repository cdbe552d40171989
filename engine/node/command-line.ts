import completion from '@bomb.sh/tab/commander';
import { Command, CommanderError, Option } from 'commander';
import { programVersion } from '../../core/finish/program';

/** Wrong words on the command line; answered with one line and exit status 2. */
export class UsageError extends Error {}

/** An option of the form `--media NAME=PATTERN`, which may be given several times. */
export const repeated = (flags: string, about: string): Option =>
  new Option(flags, about)
    .argParser((value: string, before: string[]) => [...before, value])
    .default([], 'none');

/** What every command has; `versioned` but where --version is another thing. */
function common(command: Command, about: string, versioned = true): Command {
  command.description(about).helpOption('-h, --help', 'what it takes').helpCommand(false);
  return versioned ? command.version(programVersion, '--version', 'the version of Zafiro') : command;
}

/** `./zafiro`, which the commands of one program are declared on: help, hints and what is refused follow from the declarations. */
export const commandLine = (about: string): Command =>
  common(new Command('zafiro'), about)
    .usage('COMMAND [options]')
    .exitOverride()
    .configureOutput({ writeErr: () => {} });

/** Declares a command, with the examples that its help ends with. */
export function declared(
  on: Command,
  words: string,
  about: string,
  examples: readonly string[],
  versioned = true,
): Command {
  const command = common(on.command(words), about, versioned);
  const lines = examples.map((e) => `\n  ./zafiro ${e}`).join('');
  return lines === '' ? command : command.addHelpText('after', `\nExamples:${lines}`);
}

/**
 * Adds `complete`, by which shells ask what may come next and get the script that makes them ask. Whatever is declared later is not known to it.
 */
export function completed(program: Command): void {
  completion(program);
  for (const command of program.commands) {
    if (command.name() !== 'complete') continue;
    common(command, 'What a shell needs to complete these words.')
      .usage('bash | zsh | fish | powershell')
      .addHelpText('after', '\nExamples:\n  source <(./zafiro complete bash)');
  }
}

/** A command that says its exit status. */
export const ended =
  <A extends unknown[]>(work: (...given: A) => number | Promise<number>) =>
  async (...given: A): Promise<void> => {
    process.exitCode = await work(...given);
  };

const fullName = (of: Command): string => (of.parent ? `${fullName(of.parent)} ${of.name()}` : './zafiro');

/** The command that the words lead to, as far as they do. */
function reached(program: Command, words: readonly string[]): Command {
  const next = program.commands.find((c) => c.name() === words[0]);
  return next ? reached(next, words.slice(1)) : program;
}

/** Does what the words of a command line say. @throws {UsageError} in one line for what is refused; what the command itself throws. */
export async function obey(program: Command, words: readonly string[]): Promise<void> {
  try {
    await program.parseAsync([...words], { from: 'user' });
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error;
    if (error.exitCode === 0) return;
    const at = reached(program, words);
    if (/^commander\.help/.test(error.code)) throw new UsageError(`Say what. See ${fullName(at)} --help.`);
    const said = error.message.replace(/^error: /, '').replace(/\s*\n\s*/g, ' ');
    const sentence = said.charAt(0).toUpperCase() + said.slice(1);
    throw new UsageError(`${sentence.replace(/([^.?)])$/, '$1.')} See ${fullName(at)} --help.`);
  }
}
