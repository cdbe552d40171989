import { endToken as route } from '@/api/access';
import { ownAccount } from '@/server/access/own';
import { endToken } from '@/server/access/sessions';
import { answer } from '@/server/http/answer';

export const DELETE = answer(route, async ({ params, who }) => {
  await endToken(ownAccount(who), params.token);
  return {};
});
