import { addToken as route } from '@/api/access';
import { ownAccount } from '@/server/access/own';
import { addToken } from '@/server/access/sessions';
import { answer, Refused } from '@/server/http/answer';

/** The token itself is shown this once: only its hash is kept. */
export const POST = answer(route, async ({ body: { name, scope, days }, who }) => {
  const account = ownAccount(who);
  if ((scope === 'node' || scope === 'metrics') && !who.isAdmin)
    throw new Refused(
      'forbidden',
      'Tokens of machines and measurements are for administrators.',
      'Ask one of them.',
    );
  return { token: await addToken(account, name, scope, days) };
});
