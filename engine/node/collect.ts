import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** V8 does not count shared memory, so what nobody holds any more would fill the machine: it is collected after so much growth. */
const growth = 128 * 2 ** 20;
let collect: (() => void) | undefined;
let least = process.memoryUsage.rss();

/** Called after each piece of work of a process that unpacks files into shared memory. */
export function collectShared() {
  const now = process.memoryUsage.rss();
  least = Math.min(least, now);
  if (now - least < growth) return;
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
  least = process.memoryUsage.rss();
}
