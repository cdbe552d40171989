import { Redis } from 'ioredis';

/**
 * Connections to Redis, which holds the order of what waits. Everything in it can be made again from the database; where it is away, who asks waits until
 * it is back.
 */
export function openRedis(): Redis {
  const url = process.env.ZAFIRO_REDIS_URL;
  if (!url) throw new Error('ZAFIRO_REDIS_URL is not set. Start Zafiro with ./zafiro.');
  // A socket is named by its path alone. Without end, and soon again: a private one is started anew within a second.
  const options = { maxRetriesPerRequest: null, retryStrategy: (n: number) => Math.min(50 * n, 1000) };
  const made = url.startsWith('/') ? new Redis({ path: url, ...options }) : new Redis(url, options);
  // Tried again by itself; what waits for it is told by time.
  made.on('error', () => {});
  return made;
}

/** Keys of this application begin so. */
export const redisPrefix = process.env.ZAFIRO_REDIS_PREFIX ?? 'zafiro';
