import type { RecordEntry } from '../../api/access';
import { type Connection, database, rows } from '../base/connect';
import type { Who } from './who';

/** The record of who did what: sign-ins, edits, exports, deletions. Nothing of a picture, and no secret, is in it. */

type Plain = Record<string, string | number | boolean>;

/** What is worth keeping of a body: short values, none of a document and none that is secret. */
export function plainOf(body: unknown): Plain {
  const found: Plain = {};
  for (const [key, value] of Object.entries((body as object | undefined) ?? {})) {
    if (/password|code|token|secret|now|next|webp|document|save$/i.test(key)) continue;
    if (typeof value === 'number' || typeof value === 'boolean') found[key] = value;
    else if (typeof value === 'string') found[key] = value.slice(0, 200);
  }
  return found;
}

export async function record(
  who: Pick<Who, 'account' | 'name'>,
  address: string,
  did: string,
  subject: Plain = {},
  project?: number,
  on: { query: Connection['query'] } = database(),
): Promise<void> {
  await on.query(
    'INSERT INTO record (account_id, who, address, did, project_id, subject) VALUES (?, ?, ?, ?, ?, ?)',
    [
      who.account ?? null,
      who.name.slice(0, 60),
      address.slice(0, 60),
      did,
      project ?? null,
      JSON.stringify(subject),
    ],
  );
}

/** What was done, the newest first, a page of it. */
export async function readRecord(before = Number.MAX_SAFE_INTEGER, who?: string): Promise<RecordEntry[]> {
  const found = await rows<
    Omit<RecordEntry, 'at' | 'subject'> & { at: Date; subject: string | RecordEntry['subject'] | null }
  >(
    `SELECT r.id, r.at, r.who, r.address, r.did, p.name AS project, r.subject
     FROM record r LEFT JOIN project p ON p.id = r.project_id
     WHERE r.id < ? AND (? IS NULL OR r.who = ?) ORDER BY r.id DESC LIMIT 100`,
    [before, who ?? null, who ?? null],
  );
  return found.map(({ at, subject, ...entry }) => ({
    ...entry,
    at: at.toISOString(),
    subject: typeof subject === 'string' ? JSON.parse(subject) : (subject ?? {}),
  }));
}
