import { renewToken as route } from '@/api/machines';
import { answer } from '@/server/http/answer';
import { renewToken } from '@/server/nodes/token';

export const POST = answer(route, async () => {
  renewToken();
  return {};
});
