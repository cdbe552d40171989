import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { alone, rows } from './connect';

/** The data folder belongs to a newer program, which this one would harm. */
export class NewerData extends Error {}

/**
 * Applies the numbered SQL files of `folder` that have not been applied, in order. Statements that define tables commit by
 * themselves in MariaDB, so each file is written to be safe to repeat; its number is noted once all of it ran.
 * A named lock keeps two processes from migrating at once. `before` is waited for where a database that has rows is about to change.
 */
export async function migrate(folder: string, before?: (first: string) => Promise<void>): Promise<string[]> {
  return alone('zafiro-migrate', async (connection) => {
    const applied: string[] = [];
    await connection.query(
      'CREATE TABLE IF NOT EXISTS migration (name VARCHAR(200) PRIMARY KEY, at DATETIME(3) DEFAULT CURRENT_TIMESTAMP(3))',
    );
    const done = new Set((await rows<{ name: string }>('SELECT name FROM migration')).map((r) => r.name));
    const known = readdirSync(folder).filter((name) => /^\d{4}_.*\.sql$/.test(name));
    const newer = [...done].filter((name) => !known.includes(name));
    if (newer.length > 0)
      throw new NewerData(
        `The data folder was used by a newer Zafiro (${newer.sort().at(-1)}). Start that one, or set ZAFIRO_DATA to another folder.`,
      );
    const pending = known.filter((name) => !done.has(name));
    if (done.size > 0 && pending.length > 0) await before?.(pending.sort()[0]);
    for (const name of readdirSync(folder).sort()) {
      if (!/^\d{4}_.*\.sql$/.test(name) || done.has(name)) continue;
      const sql = readFileSync(join(folder, name), 'utf8')
        .replace(/^--.*$/gm, '')
        .replace(/^\s+--.*$/gm, '');
      for (const statement of sql.split(/;\s*$/m)) if (statement.trim()) await connection.query(statement);
      await connection.query('INSERT INTO migration (name) VALUES (?)', [name]);
      applied.push(name);
    }
    return applied;
  });
}
