import { setTimeout as sleep } from 'node:timers/promises';
import { type IRateLimiterOptions, RateLimiterMemory, RateLimiterRedis } from 'rate-limiter-flexible';
import { openRedis, redisPrefix } from '../base/redis';
import { Refused } from '../base/refusals';
import { isShared, type Who } from './who';

/** How often somebody may ask: counted in Redis, in memory while it is away. */

const held = globalThis as {
  zafiroLimits?: Map<string, RateLimiterRedis | RateLimiterMemory>;
  zafiroLimitsRedis?: ReturnType<typeof openRedis>;
};

function limiter(name: string, points: number, duration: number) {
  held.zafiroLimits ??= new Map();
  const known = held.zafiroLimits.get(name);
  if (known) return known;
  const options: IRateLimiterOptions = { keyPrefix: `${redisPrefix}:limit:${name}`, points, duration };
  // One connection for all of them.
  if (process.env.ZAFIRO_REDIS_URL) held.zafiroLimitsRedis ??= openRedis();
  const made = held.zafiroLimitsRedis
    ? new RateLimiterRedis({
        ...options,
        storeClient: held.zafiroLimitsRedis,
        rejectIfRedisNotReady: true,
        insuranceLimiter: new RateLimiterMemory(options),
      })
    : new RateLimiterMemory(options);
  held.zafiroLimits.set(name, made);
  return made;
}

const tooMany = (what: string, millis: number) =>
  new Refused(
    'too-many',
    what,
    `Try again in ${millis > 90_000 ? `${Math.ceil(millis / 60_000)} minutes` : `${Math.max(1, Math.ceil(millis / 1000))} seconds`}.`,
  );

async function take(name: string, points: number, duration: number, key: string, what: string) {
  try {
    await limiter(name, points, duration).consume(key);
  } catch (over) {
    // Anything else that goes wrong here keeps nobody from work.
    if (typeof over === 'object' && over && 'msBeforeNext' in over)
      throw tooMany(what, Number(over.msBeforeNext));
  }
}

/** A dear request: `most` a minute for an account. A whole studio may share one address, which counts nothing here. @throws {Refused} */
export async function spend(route: string, most: number, who: Who): Promise<void> {
  if (!isShared()) return;
  await take(`account:${route}`, most, 60, String(who.account), 'That was asked too often.');
}

/**
 * Wrong passwords, for a quarter of an hour: from one address so many for a name, so that no password is guessed, and so many in all, so that no
 * name is. A name that is tried from many addresses is slowed down, not locked: nobody can keep its owner out.
 */
const tries = { together: 10, address: 50, seconds: 900, unslowed: 10, mostSlowSeconds: 8 };
const keyOf = (name: string, address: string) => `${name.toLowerCase()}|${address}`;
const ofName = () => limiter('sign-in-name', Number.MAX_SAFE_INTEGER, tries.seconds);

/** A password is about to be compared. @throws {Refused} after too many wrong ones. */
export async function countTry(name: string, address: string): Promise<void> {
  const what = 'There were too many tries to sign in.';
  await take('sign-in', tries.together, tries.seconds, keyOf(name, address), what);
  await take('sign-in-from', tries.address, tries.seconds, address, what);
  const wrong =
    (
      await ofName()
        .consume(name.toLowerCase())
        .catch(() => undefined)
    )?.consumedPoints ?? 0;
  if (wrong <= tries.unslowed) return;
  const slow = Math.min(tries.mostSlowSeconds, 0.25 * 2 ** (wrong - tries.unslowed));
  await sleep(slow * 1000);
}

/** It was right: only what is wrong counts. */
export async function forgetTries(name: string, address: string): Promise<void> {
  await Promise.allSettled([
    limiter('sign-in', tries.together, tries.seconds).delete(keyOf(name, address)),
    limiter('sign-in-from', tries.address, tries.seconds).reward(address),
    ofName().delete(name.toLowerCase()),
  ]);
}
