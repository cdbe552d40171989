import { changePassword } from '@/api/access';
import { accountOf, setPassword } from '@/server/access/accounts';
import { ownAccount } from '@/server/access/own';
import { addressIn } from '@/server/access/request';
import { beginSession, cookieOf } from '@/server/access/sessions';
import { answer, Refused } from '@/server/answer';

/** All other sessions and all tokens of the account end; this browser goes on with a session of its own. */
export const PUT = answer(changePassword, async ({ body, who }, request) => {
  const account = ownAccount(who);
  if (!(await accountOf(who.name, body.now))) throw new Refused('forbidden', 'The password is wrong.');
  await setPassword(account, who.name, body.next);
  const agent = request.headers.get('user-agent') ?? '';
  const secret = await beginSession(account, addressIn(request.headers), agent);
  return Response.json({}, { headers: { 'set-cookie': cookieOf(secret) } });
});
