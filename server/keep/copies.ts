import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { dataPath } from '../base/data-folder';
import { dumpTo } from './database';

const mostCopies = 5;

/** A copy of all rows before an upgrade changes their tables; the last few stay. */
export async function copyBefore(first: string): Promise<void> {
  const folder = dataPath('copies');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const at = new Date().toISOString().replace(/[:.]/g, '-');
  const name = `${at}-before-${first.replace(/\.sql$/, '')}.sql.gz`;
  process.stdout.write(`Copying the database before it is brought up to date: ${dataPath('copies', name)}\n`);
  await dumpTo(dataPath('copies', name));
  for (const old of readdirSync(folder).sort().slice(0, -mostCopies)) rmSync(dataPath('copies', old));
}
