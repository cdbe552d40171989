import { parseArgs } from 'node:util';
import { type Role, roles, scopes } from '../../api/access';
import { accountNamed, addAccount, changeAccount, listAccounts, setPassword } from '../access/accounts';
import { setMember } from '../access/members';
import { record } from '../access/record';
import { projectOf } from '../access/rights';
import { addToken } from '../access/sessions';
import { LaunchError } from '../launch/child';
import { Refused } from '../refusals';
import { askPassword } from './ask';
import { backup, restore } from './backup';
import { check } from './check';
import { clean, roomToFree } from './clean';
import { withDatabase } from './database';
import { doctor } from './doctor';

/** What the keeper of a server does from the command line. Each command gives the exit status. */

const out = (line: string) => process.stdout.write(`${line}\n`);
const say = (line: string) => process.stderr.write(`${line}\n`);
const size = (bytes: number) =>
  bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`;
const here = { account: undefined, name: 'this machine' };

async function user(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { admin: { type: 'boolean', default: false } },
  });
  const [what, name, project, role] = positionals;
  if (what !== 'list' && !name) throw new LaunchError('Name the account: ./zafiro user add NAME [--admin]');
  const done = (words: string, did: string) =>
    record(here, 'command line', did, { name }).then(() => {
      out(words);
      return 0;
    });
  switch (what) {
    case 'add': {
      const password = await askPassword();
      return withDatabase(async () => {
        await addAccount(name, password, values.admin);
        return done(`${name} may sign in${values.admin ? ', as an administrator' : ''}.`, 'made an account');
      });
    }
    case 'password': {
      const password = await askPassword();
      return withDatabase(async () => {
        await setPassword((await accountNamed(name)).id, name, password);
        return done(`${name} has a new password, and is signed out everywhere.`, 'changed a password');
      });
    }
    case 'list':
      return withDatabase(async () => {
        for (const a of await listAccounts())
          out(`${a.name}${a.isAdmin ? ', administrator' : ''}${a.hasSecondFactor ? ', second factor' : ''}`);
        return 0;
      });
    case 'remove':
      return withDatabase(async () => {
        await changeAccount((await accountNamed(name)).id, 'remove');
        return done(`${name} is gone.`, 'removed an account');
      });
    case 'admin':
      return withDatabase(async () => {
        await changeAccount((await accountNamed(name)).id, { isAdmin: project !== 'no' });
        return done(
          `${name} is ${project === 'no' ? 'no administrator any more' : 'an administrator'}.`,
          'changed an account',
        );
      });
    case 'role':
      return withDatabase(async () => {
        const into = await projectOf({ projectName: project });
        if (into === undefined) throw new LaunchError(`There is no project ${project ?? ''}.`);
        if (role !== 'none' && !roles.includes(role as Role))
          throw new LaunchError(`A role is one of ${roles.join(', ')}, or none.`);
        await setMember(into, (await accountNamed(name)).id, role === 'none' ? null : (role as Role));
        return done(`${name}: ${role} in ${project}.`, 'changed who may do what');
      });
    default:
      throw new LaunchError('./zafiro user add | password | list | remove | admin | role');
  }
}

async function token(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { for: { type: 'string' }, scope: { type: 'string' }, days: { type: 'string', default: '90' } },
  });
  const scope = scopes.find((s) => s === values.scope);
  const days = Number(values.days);
  if (positionals[0] !== 'add' || !positionals[1] || !values.for || !scope || !(days >= 1 && days <= 365))
    throw new LaunchError(
      `./zafiro token add NAME --for ACCOUNT --scope ${scopes.join('|')} [--days 90], at most a year`,
    );
  return withDatabase(async () => {
    const account = await accountNamed(values.for!);
    out(await addToken(account.id, positionals[1], scope, days));
    await record(here, 'command line', 'made a token', { name: positionals[1], of: account.name, scope });
    say('This is shown once: only its hash is kept.');
    return 0;
  });
}

async function checkAll(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: { mend: { type: 'boolean', default: false }, deep: { type: 'boolean', default: false } },
  });
  return withDatabase(async () => {
    const { counted, findings } = await check(values.mend, values.deep, say);
    for (const { what, remedy, mended } of findings) out(`${what} ${mended ? 'Mended: ' : ''}${remedy}`);
    out(
      Object.entries(counted)
        .map(([what, n]) => `${n} ${what}`)
        .join(', '),
    );
    const open = findings.filter((f) => !f.mended).length;
    out(open === 0 ? 'All is there and right.' : `${open} findings. Add --mend to mend what can be.`);
    return open === 0 ? 0 : 1;
  });
}

async function cleanUp(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      'versions-older-than': { type: 'string' },
      deleted: { type: 'boolean', default: false },
      yes: { type: 'boolean', default: false },
    },
  });
  const older = values['versions-older-than'];
  const days = older === undefined ? undefined : Number(older);
  if (days !== undefined && !(Number.isInteger(days) && days >= 1))
    throw new LaunchError('--versions-older-than takes a number of days, 1 or more.');
  return withDatabase(async () => {
    for (const { what, count, bytes } of await roomToFree(days, values.deleted))
      out(`${count} ${what}: ${size(bytes)}`);
    if (!values.yes) {
      out('Nothing was removed. Add --yes to free this.');
      return 0;
    }
    out(`${await clean(days, values.deleted)} removed.`);
    await record(here, 'command line', 'cleaned up', { ...(days ? { days } : {}), deleted: values.deleted });
    return 0;
  });
}

const commands: Record<string, (args: string[]) => Promise<number>> = {
  user,
  token,
  check: checkAll,
  clean: cleanUp,
  async backup([file]) {
    if (!file) throw new LaunchError('Name the file: ./zafiro backup FILE');
    return withDatabase(async () => {
      const { files, tables } = await backup(file, say);
      const bytes = files.reduce((sum, f) => sum + (f.link ? 0 : f.bytes), 0);
      const all = Object.values(tables).reduce((a, b) => a + b, 0);
      out(`${file}: ${all} rows, ${files.length} files, ${size(bytes)}.`);
      await record(here, 'command line', 'made a backup');
      return 0;
    });
  },
  async restore([file]) {
    if (!file) throw new LaunchError('Name the file: ./zafiro restore FILE');
    const { madeAt, files } = await restore(file, say);
    out(`As of ${madeAt}, with ${files.length} files. Everybody signs in anew.`);
    return 0;
  },
  async doctor() {
    const looks = await doctor();
    for (const { about, found, remedy } of looks)
      out(`${remedy ? '!' : ' '} ${about}: ${found}${remedy ? `. ${remedy}` : ''}`);
    return looks.some((l) => l.remedy) ? 1 : 0;
  },
};

const [name, ...args] = process.argv.slice(2);
try {
  const command = commands[name];
  if (!command) throw new LaunchError(`There is no command “${name ?? ''}”.`);
  process.umask(0o077);
  process.exitCode = await command(args);
} catch (error) {
  const { message, stack } = error as Error;
  const known = error instanceof LaunchError || error instanceof Refused;
  const remedy = error instanceof Refused && error.remedy ? ` ${error.remedy}` : '';
  process.stderr.write(`zafiro: ${known ? message + remedy : (stack ?? message)}\n`);
  process.exitCode = 1;
}
process.exit();
