import { readFrameFile } from '@/api/node';
import { answer } from '@/server/answer';
import { letIn } from '@/server/nodes/token';
import { frameFileOf } from '@/server/nodes/work';

export const GET = answer(readFrameFile, async ({ params, query }, request) => {
  await letIn(request);
  return frameFileOf(params, params.node, query);
});
