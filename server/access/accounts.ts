import { hash, verify } from '@node-rs/argon2';
import { Secret, TOTP } from 'otpauth';
import { database, type Result, rows, transaction } from '../base/connect';
import { NotFound, Refused } from '../base/refusals';

/** Accounts: names, passwords, second factors. */

export type Account = {
  id: number;
  name: string;
  isAdmin: boolean;
  makesProjects: boolean;
  hasSecondFactor: boolean;
  createdAt: string;
};

type Found = {
  id: number;
  name: string;
  is_admin: number;
  makes_projects: number;
  totp_confirmed: number;
  created_at: Date;
};
const columns = 'id, name, is_admin, makes_projects, totp_confirmed, created_at';
/** What the row of an account says it may do. */
export const rightsOf = (a: { is_admin: number; makes_projects: number }) => ({
  isAdmin: Boolean(a.is_admin),
  makesProjects: Boolean(a.is_admin || a.makes_projects),
});
const described = (a: Found): Account => ({
  id: a.id,
  name: a.name,
  ...rightsOf(a),
  hasSecondFactor: Boolean(a.totp_confirmed),
  createdAt: a.created_at.toISOString(),
});

/** Argon2id with 19 MiB, two passes, one lane (OWASP Password Storage Cheat Sheet). */
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** NIST SP 800-63B: long rather than complicated. */
const shortestPassword = 12;

function checkPassword(password: string, name: string): void {
  if (password.length < shortestPassword)
    throw new Refused(
      'bad-request',
      `A password has at least ${shortestPassword} letters.`,
      'Several words are easier to keep in mind than signs.',
    );
  if (password.length > 200) throw new Refused('bad-request', 'A password has at most 200 letters.');
  if (new Set(password).size < 5 || password.toLowerCase().includes(name.toLowerCase()))
    throw new Refused('bad-request', 'This password is easy to guess.', 'Choose another one.');
}

const accountName = /^[\p{L}\p{N}][\p{L}\p{N} ._@-]{0,59}$/u;

export async function addAccount(name: string, password: string, isAdmin: boolean): Promise<number> {
  if (!accountName.test(name))
    throw new Refused('bad-request', 'A name has letters, digits, spaces and . _ @ -, at most 60 of them.');
  checkPassword(password, name);
  try {
    const [made] = await database().query<Result>(
      'INSERT INTO account (name, password_hash, is_admin) VALUES (?, ?, ?)',
      [name, await hash(password, cost), isAdmin],
    );
    return made.insertId;
  } catch (error) {
    if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
      throw new Refused('conflict', `There is an account ${name} already.`, 'Choose another name.');
    throw error;
  }
}

export const listAccounts = async () =>
  (await rows<Found>(`SELECT ${columns} FROM account ORDER BY name`)).map(described);

/** @throws {NotFound} */
export async function accountNamed(name: string): Promise<Account> {
  const [found] = await rows<Found>(`SELECT ${columns} FROM account WHERE name = ?`, [name]);
  if (!found) throw new NotFound(`There is no account ${name}.`);
  return described(found);
}

export const letMakeProjects = (account: number, may: boolean) =>
  database().query('UPDATE account SET makes_projects = ? WHERE id = ?', [may, account]);

export const countAdmins = async () =>
  (await rows<{ n: number }>('SELECT COUNT(*) AS n FROM account WHERE is_admin'))[0].n;

/** A name as its account has it: the database takes letters for the same whatever their case and accents, and so must who counts tries. */
export const ownName = async (name: string): Promise<string> =>
  (await rows<{ name: string }>('SELECT name FROM account WHERE name = ?', [name]))[0]?.name ?? name;

/** A hash of nothing that is a password, so that a name which is not there takes as long as one that is. */
let nobody: Promise<string> | undefined;

/** The account of a name and its password; undefined where either is wrong. */
export async function accountOf(name: string, password: string): Promise<Account | undefined> {
  nobody ??= hash(crypto.randomUUID(), cost);
  const [found] = await rows<Found & { password_hash: string }>(
    `SELECT ${columns}, password_hash FROM account WHERE name = ?`,
    [name],
  );
  const isRight = await verify(found?.password_hash ?? (await nobody), password.slice(0, 200)).catch(
    () => false,
  );
  return found && isRight ? described(found) : undefined;
}

/** Sets a password; all sessions and tokens of the account end. */
export async function setPassword(account: number, name: string, password: string): Promise<void> {
  checkPassword(password, name);
  const made = await hash(password, cost);
  await transaction(async (c) => {
    await c.query('UPDATE account SET password_hash = ? WHERE id = ?', [made, account]);
    await c.query('DELETE FROM session WHERE account_id = ?', [account]);
    await c.query('DELETE FROM access_token WHERE account_id = ?', [account]);
  });
}

/** Removes an account, or its rights as administrator. The last administrator stays. @throws {Refused} */
export async function changeAccount(id: number, change: 'remove' | { isAdmin: boolean }): Promise<void> {
  await transaction(async (c) => {
    const [admins] = await c.query<(Found & import('mysql2').RowDataPacket)[]>(
      'SELECT id FROM account WHERE is_admin FOR UPDATE',
    );
    const keepsAdmin = change !== 'remove' && change.isAdmin;
    if (!keepsAdmin && admins.length === 1 && admins[0].id === id)
      throw new Refused('refused', 'This is the last administrator.', 'Make another one first.');
    if (change === 'remove') await c.query('DELETE FROM account WHERE id = ?', [id]);
    else await c.query('UPDATE account SET is_admin = ? WHERE id = ?', [change.isAdmin, id]);
  });
}

/** RFC 6238 as all apps for it know it: SHA-1, six digits, 30 seconds. */
const totpOf = (name: string, secret: string) =>
  new TOTP({ issuer: 'Zafiro', label: name, secret: Secret.fromBase32(secret), digits: 6, period: 30 });

/** A secret for the second factor, which counts once a code of it was given. */
export async function beginSecondFactor(account: number, name: string) {
  const secret = new Secret({ size: 20 }).base32;
  await database().query(
    'UPDATE account SET totp_secret = ?, totp_confirmed = FALSE, totp_step = 0 WHERE id = ?',
    [secret, account],
  );
  return { secret, uri: totpOf(name, secret).toString() };
}

/** True for a code of now, of the step before or of the one after, that was not used yet. */
export async function takesCode(account: number, code: string): Promise<boolean> {
  const [found] = await rows<{ name: string; totp_secret: string | null }>(
    'SELECT name, totp_secret FROM account WHERE id = ?',
    [account],
  );
  if (!found?.totp_secret || !/^\d{6}$/.test(code)) return false;
  const delta = totpOf(found.name, found.totp_secret).validate({ token: code, window: 1 });
  if (delta === null) return false;
  const step = Math.floor(Date.now() / 30_000) + delta;
  const [used] = await database().query<Result>(
    'UPDATE account SET totp_step = ? WHERE id = ? AND totp_step < ?',
    [step, account, step],
  );
  return used.affectedRows === 1;
}

export const confirmSecondFactor = (account: number) =>
  database().query('UPDATE account SET totp_confirmed = TRUE WHERE id = ?', [account]);
export const endSecondFactor = (account: number) =>
  database().query('UPDATE account SET totp_confirmed = FALSE, totp_secret = NULL WHERE id = ?', [account]);
