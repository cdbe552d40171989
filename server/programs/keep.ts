import { Argument, Option } from 'commander';
import { type Role, roles, scopes } from '../../api/access';
import { commandLine, completed, declared, ended, obey, UsageError } from '../../engine/node/command-line';
import { accountNamed, addAccount, changeAccount, listAccounts, setPassword } from '../access/accounts';
import { setMember } from '../access/members';
import { record } from '../access/record';
import { projectOf } from '../access/rights';
import { addToken } from '../access/sessions';
import { Refused } from '../base/refusals';
import { askPassword } from '../keep/ask';
import { backup, restore } from '../keep/backup';
import { check } from '../keep/check';
import { clean, roomToFree } from '../keep/clean';
import { withDatabase } from '../keep/database';
import { doctor } from '../keep/doctor';
import { LaunchError } from '../services/child';

/** What the keeper of a server does from the command line. */

const out = (line: string) => process.stdout.write(`${line}\n`);
const say = (line: string) => process.stderr.write(`${line}\n`);
const size = (bytes: number) =>
  bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`;
const here = { account: undefined, name: 'this machine' };

const program = commandLine('Keeps what Zafiro holds.');

/** Does a deed of the keeper, and puts it down. */
const deed = async (did: string, name: string, words: string, work: () => Promise<unknown>) =>
  withDatabase(async () => {
    await work();
    await record(here, 'command line', did, { name });
    out(words);
  });
const idOf = async (name: string) => (await accountNamed(name)).id;

const user = declared(program, 'user', 'Accounts, and what they may do.', [
  'user add Ada --admin',
  'user role Mina "Orrery Hall" edit',
]);
declared(user, 'add', 'Makes an account; asks for its password.', ['user add Ada --admin'])
  .argument('<NAME>')
  .option('--admin', 'an administrator', false)
  .action(async (name: string, { admin }: { admin: boolean }) => {
    const password = await askPassword();
    await deed('made an account', name, `${name} may sign in${admin ? ', as an administrator' : ''}.`, () =>
      addAccount(name, password, admin),
    );
  });
declared(user, 'password', 'Sets a password; the account is signed out everywhere.', ['user password Ada'])
  .argument('<NAME>')
  .action(async (name: string) => {
    const password = await askPassword();
    await deed(
      'changed a password',
      name,
      `${name} has a new password, and is signed out everywhere.`,
      async () => setPassword(await idOf(name), name, password),
    );
  });
declared(user, 'list', 'All accounts.', ['user list']).action(() =>
  withDatabase(async () => {
    for (const a of await listAccounts())
      out(`${a.name}${a.isAdmin ? ', administrator' : ''}${a.hasSecondFactor ? ', second factor' : ''}`);
  }),
);
declared(user, 'remove', 'Removes an account.', ['user remove Nils'])
  .argument('<NAME>')
  .action((name: string) =>
    deed('removed an account', name, `${name} is gone.`, async () =>
      changeAccount(await idOf(name), 'remove'),
    ),
  );
declared(user, 'admin', 'Makes an account an administrator, or with “no” one that is none.', [
  'user admin Mina',
  'user admin Mina no',
])
  .argument('<NAME>')
  .addArgument(new Argument('[no]').choices(['no', 'yes']).default('yes'))
  .action((name: string, is: string) =>
    deed(
      'changed an account',
      name,
      `${name} is ${is === 'no' ? 'no administrator any more' : 'an administrator'}.`,
      async () => changeAccount(await idOf(name), { isAdmin: is !== 'no' }),
    ),
  );
declared(user, 'role', 'What an account may do in a project.', ['user role Mina "Orrery Hall" edit'])
  .argument('<NAME>')
  .argument('<PROJECT>')
  .addArgument(new Argument('<ROLE>').choices([...roles, 'none']))
  .action((name: string, project: string, role: Role | 'none') =>
    deed('changed who may do what', name, `${name}: ${role} in ${project}.`, async () => {
      const into = await projectOf({ projectName: project });
      if (into === undefined) throw new LaunchError(`There is no project ${project}.`);
      await setMember(into, await idOf(name), role === 'none' ? null : role);
    }),
  );

const token = declared(program, 'token', 'Tokens for scripts and machines.', [
  'token add farm --for Ada --scope node --days 30',
]);
declared(token, 'add', 'Makes a token, which is shown once.', [
  'token add farm --for Ada --scope node --days 30',
])
  .argument('<NAME>')
  .requiredOption('--for <ACCOUNT>', 'whose token it is')
  .addOption(new Option('--scope <SCOPE>', 'what it is for').choices([...scopes]).makeOptionMandatory())
  .option('--days <NUMBER>', 'how long it lasts, at most a year', '90')
  .action(async (name: string, given: { for: string; scope: (typeof scopes)[number]; days: string }) => {
    const days = Number(given.days);
    if (!(Number.isInteger(days) && days >= 1 && days <= 365))
      throw new UsageError('--days takes a number from 1 to 365.');
    await withDatabase(async () => {
      const account = await accountNamed(given.for);
      out(await addToken(account.id, name, given.scope, days));
      await record(here, 'command line', 'made a token', { name, of: account.name, scope: given.scope });
      say('This is shown once: only its hash is kept.');
    });
  });

declared(program, 'check', 'Checks that everything Zafiro keeps is there and correct.', [
  'check',
  'check --deep --mend',
])
  .option('--mend', 'repair what can be repaired', false)
  .option('--deep', 'read every byte of every finished frame', false)
  .action(
    ended(({ mend, deep }: { mend: boolean; deep: boolean }) =>
      withDatabase(async () => {
        const { counted, findings } = await check(mend, deep, say);
        for (const { what, remedy, mended } of findings) out(`${what} ${mended ? 'Mended: ' : ''}${remedy}`);
        out(
          Object.entries(counted)
            .map(([what, n]) => `${n} ${what}`)
            .join(', '),
        );
        const open = findings.filter((f) => !f.mended).length;
        out(open === 0 ? 'All is there and right.' : `${open} findings. Add --mend to mend what can be.`);
        return open === 0 ? 0 : 1;
      }),
    ),
  );

declared(program, 'clean', 'Says what would be freed, and with --yes frees it.', [
  'clean --versions-older-than 90 --deleted',
  'clean --deleted --yes',
])
  .option(
    '--versions-older-than <DAYS>',
    'versions of finishes, but the last of each day and those with a name',
  )
  .option('--deleted', 'what is in the bin', false)
  .option('--yes', 'free it', false)
  .action(async (given: { versionsOlderThan?: string; deleted: boolean; yes: boolean }) => {
    const { versionsOlderThan: older, deleted, yes } = given;
    const days = older === undefined ? undefined : Number(older);
    if (days !== undefined && !(Number.isInteger(days) && days >= 1))
      throw new UsageError('--versions-older-than takes a number of days, 1 or more.');
    await withDatabase(async () => {
      for (const { what, count, bytes } of await roomToFree(days, deleted))
        out(`${count} ${what}: ${size(bytes)}`);
      if (!yes) return out('Nothing was removed. Add --yes to free this.');
      out(`${await clean(days, deleted)} removed.`);
      await record(here, 'command line', 'cleaned up', { ...(days ? { days } : {}), deleted });
    });
  });

declared(program, 'backup', 'Writes all that is kept into one tar file, while it runs.', [
  'backup /backups/zafiro.tar',
])
  .argument('<FILE>')
  .action((file: string) =>
    withDatabase(async () => {
      const { files, tables } = await backup(file, say);
      const bytes = files.reduce((sum, f) => sum + (f.link ? 0 : f.bytes), 0);
      const all = Object.values(tables).reduce((a, b) => a + b, 0);
      out(`${file}: ${all} rows, ${files.length} files, ${size(bytes)}.`);
      await record(here, 'command line', 'made a backup');
    }),
  );

declared(program, 'restore', 'Puts a backup into an empty data folder.', ['restore /backups/zafiro.tar'])
  .argument('<FILE>')
  .action(async (file: string) => {
    const { madeAt, files } = await restore(file, say);
    out(`As of ${madeAt}, with ${files.length} files. Everybody signs in anew.`);
  });

declared(program, 'doctor', 'Whether this machine has what Zafiro needs.', ['doctor']).action(
  ended(async () => {
    const looks = await doctor();
    for (const { about, found, remedy } of looks)
      out(`${remedy ? '!' : ' '} ${about}: ${found}${remedy ? `. ${remedy}` : ''}`);
    return looks.some((l) => l.remedy) ? 1 : 0;
  }),
);
completed(program);

try {
  process.umask(0o077);
  await obey(program, process.argv.slice(2));
} catch (error) {
  const { message, stack } = error as Error;
  const known = [LaunchError, Refused, UsageError].some((kind) => error instanceof kind);
  const remedy = error instanceof Refused && error.remedy ? ` ${error.remedy}` : '';
  process.stderr.write(`zafiro: ${known ? message + remedy : (stack ?? message)}\n`);
  process.exitCode = error instanceof UsageError ? 2 : 1;
}
process.exit();
