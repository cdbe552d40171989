import { readFrameMetadata } from '@/api/media';
import { answer } from '@/server/http/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { metadataAt } from '@/server/media/reader/reader';

export const GET = answer(readFrameMetadata, async ({ params }, { signal }) =>
  metadataAt(await frameQuestion(params), signal),
);
