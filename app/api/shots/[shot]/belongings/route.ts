import { readBelongings } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { belongingsOf } from '@/server/shots/arrange';

export const GET = answer(readBelongings, ({ params }) => belongingsOf(params.shot));
