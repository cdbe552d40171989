import { collectShared } from '../../engine/node/collect';
import { answerOf, type Question } from '../media/reader/answers';

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
  collectShared();
});
process.on('disconnect', () => process.exit());
