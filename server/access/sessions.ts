import { database, type Result, rows } from '../base/connect';
import { NotFound } from '../base/refusals';
import { rightsOf } from './accounts';
import { hashOf, newSecret } from './secrets';
import type { Who } from './who';

/** Sessions of browsers: rows in the database, so that they end where somebody says so, and at once. */

const mostDays = 30;
const idleDays = 7;
/** What a browser holds is another secret after so long; the former one counts for a moment. */
const rotationHours = 12;
const formerSeconds = 60;

const isSecure = () => (process.env.ZAFIRO_PUBLIC ?? '').startsWith('https:');
/** The prefix binds a cookie to this host and to TLS (RFC 6265bis). */
export const cookieName = () => (isSecure() ? '__Host-zafiro' : 'zafiro-session');

export function cookieOf(secret: string | undefined): string {
  const age = secret === undefined ? 0 : mostDays * 86_400;
  return `${cookieName()}=${secret ?? ''}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${age}${isSecure() ? '; Secure' : ''}`;
}

export function secretIn(request: Request): string | undefined {
  const cookies = request.headers.get('cookie') ?? '';
  const found = cookies.split(/;\s*/).find((c) => c.startsWith(`${cookieName()}=`));
  return found?.slice(cookieName().length + 1) || undefined;
}

/** Begins a session; gives what the browser is to hold. */
export async function beginSession(account: number, address: string, agent: string): Promise<string> {
  const secret = newSecret();
  await database().query('INSERT INTO session (hash, account_id, address, agent) VALUES (?, ?, ?, ?)', [
    hashOf(secret),
    account,
    address.slice(0, 60),
    agent.slice(0, 200),
  ]);
  return secret;
}

type Found = {
  hash: string;
  account_id: number;
  name: string;
  is_admin: number;
  makes_projects: number;
  old: number;
  stale: number;
};

/** Whose session a secret is; and what the browser is to hold from now on, where it was rotated: by those alone who can give it that. */
export async function sessionOf(
  secret: string,
  mayRotate = false,
): Promise<{ who: Who; next?: string } | undefined> {
  const hash = hashOf(secret);
  const [found] = await rows<Found>(
    `SELECT s.hash, s.account_id, a.name, a.is_admin, a.makes_projects, s.rotated_at < NOW(3) - INTERVAL ${rotationHours} HOUR AS old,
       s.seen_at < NOW(3) - INTERVAL 1 MINUTE AS stale
     FROM session s JOIN account a ON a.id = s.account_id
     WHERE (s.hash = ? OR (s.former = ? AND s.rotated_at > NOW(3) - INTERVAL ${formerSeconds} SECOND))
       AND s.created_at > NOW(3) - INTERVAL ${mostDays} DAY AND s.seen_at > NOW(3) - INTERVAL ${idleDays} DAY`,
    [hash, hash],
  );
  if (!found) return;
  const who: Who = {
    account: found.account_id,
    name: found.name,
    ...rightsOf(found),
    by: 'session',
    session: found.hash,
  };
  if (found.stale) await database().query('UPDATE session SET seen_at = NOW(3) WHERE hash = ?', [found.hash]);
  if (!mayRotate || !found.old || found.hash !== hash) return { who };
  const next = newSecret();
  const [rotated] = await database().query<Result>(
    'UPDATE session SET hash = ?, former = ?, rotated_at = NOW(3) WHERE hash = ?',
    [hashOf(next), hash, hash],
  );
  // Another request was faster: its answer carries the next one.
  return rotated.affectedRows === 1 ? { who: { ...who, session: hashOf(next) }, next } : { who };
}

export const endSession = (hash: string) => database().query('DELETE FROM session WHERE hash = ?', [hash]);

/** Signs an account out everywhere, or everywhere but here. */
export const endSessions = (account: number, but = '') =>
  database().query('DELETE FROM session WHERE account_id = ? AND hash <> ?', [account, but]);

export async function sessionsOf(account: number) {
  const found = await rows<{ hash: string; address: string; agent: string; created_at: Date; seen_at: Date }>(
    'SELECT hash, address, agent, created_at, seen_at FROM session WHERE account_id = ? ORDER BY seen_at DESC',
    [account],
  );
  return found;
}

/** Removes what has run out; gives how many. */
export async function forgetSessions(): Promise<number> {
  const [gone] = await database().query<Result>(
    `DELETE FROM session WHERE created_at < NOW(3) - INTERVAL ${mostDays} DAY OR seen_at < NOW(3) - INTERVAL ${idleDays} DAY`,
  );
  return gone.affectedRows;
}

type Scope = NonNullable<Who['scope']>;

/** Makes a token; only its hash is kept. */
export async function addToken(account: number, name: string, scope: Scope, days: number): Promise<string> {
  const secret = `zaf_${newSecret()}`;
  await database().query(
    'INSERT INTO access_token (account_id, name, hash, scope, expires_at) VALUES (?, ?, ?, ?, NOW(3) + INTERVAL ? DAY)',
    [account, name, hashOf(secret), scope, days],
  );
  return secret;
}

/** Whose token a secret is, and what it may do. */
export async function tokenOf(secret: string): Promise<Who | undefined> {
  const [found] = await rows<{
    id: number;
    account_id: number;
    name: string;
    is_admin: number;
    makes_projects: number;
    scope: Scope;
  }>(
    `SELECT t.id, t.account_id, a.name, a.is_admin, a.makes_projects, t.scope FROM access_token t JOIN account a ON a.id = t.account_id
     WHERE t.hash = ? AND t.expires_at > NOW(3)`,
    [hashOf(secret)],
  );
  if (!found) return;
  await database().query(
    'UPDATE access_token SET used_at = NOW(3) WHERE id = ? AND (used_at IS NULL OR used_at < NOW(3) - INTERVAL 1 MINUTE)',
    [found.id],
  );
  const { account_id, name, scope } = found;
  return { account: account_id, name, ...rightsOf(found), by: 'token', scope };
}

export async function tokensOf(account: number) {
  const found = await rows<{
    id: number;
    name: string;
    scope: Scope;
    created_at: Date;
    expires_at: Date;
    used_at: Date | null;
  }>(
    'SELECT id, name, scope, created_at, expires_at, used_at FROM access_token WHERE account_id = ? ORDER BY id DESC',
    [account],
  );
  return found;
}

/** @throws {NotFound} */
export async function endToken(account: number, id: number): Promise<void> {
  const [gone] = await database().query<Result>('DELETE FROM access_token WHERE id = ? AND account_id = ?', [
    id,
    account,
  ]);
  if (gone.affectedRows === 0) throw new NotFound('This token is not there any more.');
}
