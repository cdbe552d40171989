import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { answerOf, type Question } from './answers';

/** V8 does not count shared memory, so files that nobody holds any more would fill the machine: they are collected after so much growth. */
const growth = 128 * 2 ** 20;
setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;
let least = process.memoryUsage.rss();
function tidy() {
  const now = process.memoryUsage.rss();
  least = Math.min(least, now);
  if (now - least < growth) return;
  collect();
  least = process.memoryUsage.rss();
}

/**
 * The process that reads files: a file that crashes it, hangs it or eats its memory takes nothing else down. It ends with
 * the process that started it.
 */
process.on('message', async ({ id, question }: { id: number; question: Question }) => {
  try {
    process.send!({ id, answer: await answerOf(question) });
  } catch (error) {
    const { name, message, code } = error as Error & { code?: string };
    process.send!({ id, problem: { name, message, code } });
  }
  tidy();
});
process.on('disconnect', () => process.exit());
