import { rows } from '../base/connect';
import { hasSpace } from '../base/free-space';
import { openRedis } from '../base/redis';

/** Whether the parts of the server do their work. */

type Part = 'ok' | 'away' | 'full';
export type Parts = { database: Part; redis: Part; exports: Part; disk: Part };

const held = globalThis as { zafiroHealthRedis?: ReturnType<typeof openRedis> };

const within = <T>(work: Promise<T>, millis: number): Promise<T> =>
  Promise.race([work, new Promise<never>((_, fail) => setTimeout(() => fail(new Error('late')), millis))]);
const isThere = (work: Promise<unknown>): Promise<Part> =>
  within(work, 2000).then(
    () => 'ok',
    () => 'away',
  );

/** The process of exports says every few seconds that its machine is there. */
async function exportsBeat() {
  const [found] = await rows<{ late: number }>(
    'SELECT seen_at < NOW(3) - INTERVAL 30 SECOND AS late FROM render_node WHERE is_server ORDER BY id DESC LIMIT 1',
  );
  if (!found || found.late) throw new Error('late');
}

/** @throws where the database does not answer: nothing can be done then. */
export async function partsNow(): Promise<Parts> {
  await within(rows('SELECT 1'), 5000);
  held.zafiroHealthRedis ??= process.env.ZAFIRO_REDIS_URL ? openRedis() : undefined;
  const [redis, exports, space] = await Promise.all([
    held.zafiroHealthRedis ? isThere(held.zafiroHealthRedis.ping()) : ('away' as const),
    isThere(exportsBeat()),
    hasSpace().catch(() => false),
  ]);
  return { database: 'ok', redis, exports, disk: space ? 'ok' : 'full' };
}
