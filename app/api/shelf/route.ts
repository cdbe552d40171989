import { readShelf as route } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { readShelf } from '@/server/shots/shelf';

export const GET = answer(route, async ({ who }) => readShelf(who));
