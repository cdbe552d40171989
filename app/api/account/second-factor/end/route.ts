import { endFactor } from '@/api/access';
import { accountOf, endSecondFactor } from '@/server/access/accounts';
import { ownAccount } from '@/server/access/own';
import { answer, Refused } from '@/server/answer';

export const POST = answer(endFactor, async ({ body, who }) => {
  const account = ownAccount(who);
  if (!(await accountOf(who.name, body.password))) throw new Refused('forbidden', 'The password is wrong.');
  await endSecondFactor(account);
  return {};
});
