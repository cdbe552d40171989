import { rows, transaction } from './connect';

/** Moments that a program wrote, in UTC from the beginning; all others were written by the database, in the time zone of its host. */
const writtenInUtc = new Set(['export_frame.ended_at']);

type Column = { table: string; name: string };

/**
 * Data of versions whose database ran in the host's time zone are corrected once: every moment that it wrote becomes the one in UTC. Done in one
 * transaction with the mark that it was, so that nothing is corrected twice.
 */
export async function correctTimeZone(): Promise<void> {
  const columns = await rows<Column>(
    `SELECT c.TABLE_NAME AS \`table\`, c.COLUMN_NAME AS name FROM information_schema.COLUMNS c
     JOIN information_schema.TABLES t USING (TABLE_SCHEMA, TABLE_NAME)
     WHERE c.TABLE_SCHEMA = DATABASE() AND c.DATA_TYPE = 'datetime' AND t.TABLE_TYPE = 'BASE TABLE'`,
  );
  await transaction(async (c) => {
    const [done] = await c.query<import('mysql2').ResultSetHeader>(
      "INSERT IGNORE INTO seeded (name) VALUES ('moments in UTC')",
    );
    if (done.affectedRows === 0) return;
    for (const { table, name } of columns)
      if (!writtenInUtc.has(`${table}.${name}`))
        await c.query("UPDATE ?? SET ?? = CONVERT_TZ(??, 'SYSTEM', '+00:00')", [table, name, name]);
  });
}
