import { toString as toSvg } from 'qrcode';
import { beginFactor, confirmFactor } from '@/api/access';
import { beginSecondFactor, confirmSecondFactor, takesCode } from '@/server/access/accounts';
import { ownAccount, ownPassword } from '@/server/access/own';
import { addressIn } from '@/server/access/request';
import { endSessions } from '@/server/access/sessions';
import { answer, Refused } from '@/server/http/answer';

export const POST = answer(beginFactor, async ({ body, who }, request) => {
  const found = await ownPassword(who, body.password, addressIn(request.headers));
  if (found.hasSecondFactor)
    throw new Refused('refused', 'There is a second factor already.', 'End it first.');
  const { secret, uri } = await beginSecondFactor(found.id, who.name);
  return { secret, svg: await toSvg(uri, { type: 'svg', margin: 2 }) };
});

/** From now on signing in asks for a code; other sessions end. */
export const PUT = answer(confirmFactor, async ({ body, who }) => {
  const account = ownAccount(who);
  if (!(await takesCode(account, body.code)))
    throw new Refused(
      'refused',
      'This code is wrong or was used.',
      'Wait for the next one; the clocks of phone and server must agree.',
    );
  await confirmSecondFactor(account);
  await endSessions(account, who.session);
  return {};
});
