import { readRecord as route } from '@/api/access';
import { readRecord } from '@/server/access/record';
import { answer } from '@/server/http/answer';

export const GET = answer(route, ({ query }) => readRecord(query.before, query.who));
