import { signIn } from '@/api/access';
import { accountOf, ownName, takesCode } from '@/server/access/accounts';
import { countTry, forgetTries } from '@/server/access/limits';
import { record } from '@/server/access/record';
import { addressIn } from '@/server/access/request';
import { hashOf } from '@/server/access/secrets';
import { beginSession, cookieOf, endSession, secretIn } from '@/server/access/sessions';
import { isShared } from '@/server/access/who';
import { answer, Refused } from '@/server/http/answer';

const wrong = () => new Refused('forbidden', 'Name, password or code is wrong.', 'Try again.');

/** Begins a session. What is wrong is not said, so that nobody learns which names there are. */
export const POST = answer(signIn, async ({ body: { name, password, code } }, request) => {
  if (!isShared())
    throw new Refused('refused', 'This server answers to its own machine, without signing in.');
  const address = addressIn(request.headers);
  const counted = await ownName(name);
  await countTry(counted, address);
  const account = await accountOf(name, password);
  if (!account) {
    await record({ account: undefined, name }, address, 'failed to sign in');
    throw wrong();
  }
  if (account.hasSecondFactor) {
    if (!code) return { needs: 'code' as const };
    if (!(await takesCode(account.id, code))) {
      await record({ account: account.id, name }, address, 'failed to sign in', { factor: 'second' });
      throw wrong();
    }
  }
  await forgetTries(counted, address);
  // What this browser held before is nobody's any more: a session is never taken over by signing in.
  const held = secretIn(request);
  if (held) await endSession(hashOf(held));
  const secret = await beginSession(account.id, address, request.headers.get('user-agent') ?? '');
  await record({ account: account.id, name: account.name }, address, 'signed in');
  return Response.json({}, { headers: { 'set-cookie': cookieOf(secret) } });
});
