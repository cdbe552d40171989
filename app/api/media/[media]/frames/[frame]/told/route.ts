import { readFrameFacts } from '@/api/media';
import { answer } from '@/server/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { toldAt } from '@/server/media/reader/reader';

export const GET = answer(readFrameFacts, async ({ params }, { signal }) =>
  toldAt(await frameQuestion(params), signal),
);
