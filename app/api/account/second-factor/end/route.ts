import { endFactor } from '@/api/access';
import { endSecondFactor } from '@/server/access/accounts';
import { ownPassword } from '@/server/access/own';
import { addressIn } from '@/server/access/request';
import { answer } from '@/server/http/answer';

export const POST = answer(endFactor, async ({ body, who }, request) => {
  const { id } = await ownPassword(who, body.password, addressIn(request.headers));
  await endSecondFactor(id);
  return {};
});
