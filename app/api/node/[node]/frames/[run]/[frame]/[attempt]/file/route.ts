import { readFrameFile } from '@/api/node';
import { answer } from '@/server/answer';
import { frameFileOf } from '@/server/nodes/work';

export const GET = answer(readFrameFile, ({ params, query }) => frameFileOf(params, params.node, query));
