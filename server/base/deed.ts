import { AsyncLocalStorage } from 'node:async_hooks';
import type { PoolConnection as Connection } from 'mysql2/promise';

/**
 * What is put down of a request belongs to what it does: it is written in the first transaction of the request, so that there is neither a deed
 * without its record nor a record of what was not done.
 */
type Deed = { write(c: Connection): Promise<unknown>; isWritten: boolean };
const under = new AsyncLocalStorage<Deed>();

/** Does `work` with its record; gives whether that was written in a transaction of it. */
export async function withRecord<T>(
  write: Deed['write'],
  work: () => Promise<T>,
): Promise<{ result: T; isWritten: boolean }> {
  const deed: Deed = { write, isWritten: false };
  const result = await under.run(deed, work);
  return { result, isWritten: deed.isWritten };
}

/** Called by each transaction before it is committed; gives what is to be done once it was. */
export async function writeRecord(c: Connection): Promise<() => void> {
  const deed = under.getStore();
  if (!deed || deed.isWritten) return () => {};
  await deed.write(c);
  return () => {
    deed.isWritten = true;
  };
}
