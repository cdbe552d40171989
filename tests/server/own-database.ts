import { closeDatabase } from '../../server/base/connect';
import { migrate } from '../../server/base/migrate';
import { stop } from '../../server/services/child';
import { startMariaDb } from '../../server/services/mariadb';
import { root } from './instance';

/** A real MariaDB of a test's own, with all tables, in a data folder. */
export async function ownDatabase(folder: string): Promise<{ close(): Promise<void> }> {
  process.env.ZAFIRO_DATA = folder;
  const maria = await startMariaDb(`${folder}/mariadb`);
  process.env.ZAFIRO_DATABASE_URL = maria.url;
  await migrate(`${root}/server/base/migrations`);
  return {
    async close() {
      await closeDatabase();
      await stop(maria.child, 60);
    },
  };
}
