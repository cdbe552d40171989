import mysql from 'mysql2/promise';
import { writeRecord } from './deed';

export type Row = mysql.RowDataPacket;
export type Result = mysql.ResultSetHeader;
export type Connection = mysql.PoolConnection;

/** Kept on the global object so that reloading a module in development does not open a second pool. */
const held = globalThis as { zafiroPool?: mysql.Pool };

/** The pool of the database that ZAFIRO_DATABASE_URL names. */
export function database(): mysql.Pool {
  if (!held.zafiroPool) {
    const uri = process.env.ZAFIRO_DATABASE_URL;
    if (!uri) throw new Error('ZAFIRO_DATABASE_URL is not set. Start Zafiro with ./zafiro.');
    held.zafiroPool = mysql.createPool({ uri, connectionLimit: 8, timezone: 'Z', charset: 'utf8mb4' });
  }
  return held.zafiroPool;
}

export async function closeDatabase(): Promise<void> {
  await held.zafiroPool?.end();
  held.zafiroPool = undefined;
}

/** Rows of a query with `?` places. */
export async function rows<T>(sql: string, values: unknown[] = []): Promise<T[]> {
  const [found] = await database().query<(T & Row)[]>(sql, values);
  return found;
}

const turns = new Map<string, Promise<unknown>>();

/** Does `work` while nobody else does any under this name, in any process. @throws {Error} where another takes longer than a minute. */
export function alone<T>(name: string, work: (c: Connection) => Promise<T>): Promise<T> {
  // Here one after another, so that those that wait do not hold all connections.
  const turn = (turns.get(name) ?? Promise.resolve()).then(() => locked(name, work));
  turns.set(
    name,
    turn.catch(() => {}),
  );
  return turn;
}

async function locked<T>(name: string, work: (c: Connection) => Promise<T>): Promise<T> {
  const connection = await database().getConnection();
  try {
    const [[{ got }]] = await connection.query<Row[]>('SELECT GET_LOCK(?, 60) AS got', [name]);
    if (got !== 1) throw new Error(`The lock ${name} of the database was not to be had within a minute.`);
    try {
      return await work(connection);
    } finally {
      await connection.query('SELECT RELEASE_LOCK(?)', [name]).catch(() => {});
    }
  } finally {
    connection.release();
  }
}

/** Two transactions that wait for each other: one of them is to be done again. */
const isDeadlock = (error: unknown) =>
  ['ER_LOCK_DEADLOCK', 'ER_CHECKREAD'].includes(String((error as { code?: unknown }).code));
const tries = 5;

/**
 * Runs `work` in one transaction: all of it is committed when this resolves, none of it if it throws. Where the database breaks a deadlock, it is
 * done again, so `work` changes nothing but the database.
 */
export async function transaction<T>(work: (c: Connection) => Promise<T>): Promise<T> {
  for (let n = 1; ; n++) {
    try {
      return await attempted(work);
    } catch (error) {
      if (n === tries || !isDeadlock(error)) throw error;
    }
  }
}

async function attempted<T>(work: (c: Connection) => Promise<T>): Promise<T> {
  const connection = await database().getConnection();
  try {
    // Queues are polled with SKIP LOCKED; gap locks of the default level would make claims wait for each other.
    await connection.query('SET TRANSACTION ISOLATION LEVEL READ COMMITTED');
    await connection.beginTransaction();
    const result = await work(connection);
    const written = await writeRecord(connection);
    await connection.commit();
    written();
    return result;
  } catch (error) {
    await connection.rollback().catch(() => {});
    throw error;
  } finally {
    connection.release();
  }
}
