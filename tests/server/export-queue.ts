import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { dirname } from 'node:path';
import { openFrameOrder } from '../../server/exports/order';
import { type Claim, feedOrder, placeFrame, takeFrame } from '../../server/exports/queue';
import { addMachine } from '../../server/nodes/machines';
import { type Child, stop } from '../../server/services/child';
import { startRedis } from '../../server/services/redis';

/** The queue of exports on a real Redis, as machines see it that render nothing. */
export async function openQueue(folder: string) {
  let redis: Child = (await startRedis(`${folder}/redis`)).child;
  const order = openFrameOrder();
  const machine = (name: string) => addMachine({ name, cores: 2, megabytes: 4096, places: 1, build: 'test' });
  const node = await machine('first');
  return {
    order,
    node,
    machine,
    /** The next frame, taken. */
    async claim(by = node): Promise<Claim | undefined> {
      await feedOrder(order);
      return takeFrame(order, by);
    },
    /** Puts a file of so many bytes in its place. */
    async finish(claim: Claim, size = 10): Promise<boolean> {
      const bytes = Buffer.alloc(size, claim.frame);
      await mkdir(dirname(claim.job.out), { recursive: true });
      writeFileSync(claim.job.out, bytes);
      const digest = createHash('sha256').update(bytes).digest('hex');
      return placeFrame(claim, { key: `key ${claim.frame}`, bytes: size, digest, millis: 5 });
    },
    /** Ends Redis by kill -9, and starts it again with what is on its disk. */
    async killRedis(between = async () => {}) {
      redis.process.kill('SIGKILL');
      await redis.ended;
      await between();
      redis = (await startRedis(`${folder}/redis`)).child;
    },
    async close() {
      await order.close();
      await stop(redis);
    },
  };
}
