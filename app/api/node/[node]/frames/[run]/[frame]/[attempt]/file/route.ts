import { readFrameFile } from '@/api/node';
import { frameFileOf } from '@/server/exports/frames-for-machines';
import { answer } from '@/server/http/answer';

export const GET = answer(readFrameFile, ({ params, query }) => frameFileOf(params, params.node, query));
