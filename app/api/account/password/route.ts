import { changePassword } from '@/api/access';
import { setPassword } from '@/server/access/accounts';
import { ownPassword } from '@/server/access/own';
import { addressIn } from '@/server/access/request';
import { beginSession, cookieOf } from '@/server/access/sessions';
import { answer } from '@/server/http/answer';

/** All other sessions and all tokens of the account end; this browser goes on with a session of its own. */
export const PUT = answer(changePassword, async ({ body, who }, request) => {
  const address = addressIn(request.headers);
  const { id: account } = await ownPassword(who, body.now, address);
  await setPassword(account, who.name, body.next);
  const agent = request.headers.get('user-agent') ?? '';
  const secret = await beginSession(account, address, agent);
  return Response.json({}, { headers: { 'set-cookie': cookieOf(secret) } });
});
