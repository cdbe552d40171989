import { signOut } from '@/api/access';
import { cookieOf, endSession, endSessions } from '@/server/access/sessions';
import { answer } from '@/server/http/answer';

export const POST = answer(signOut, async ({ body, who }) => {
  if (body.everywhere && who.account !== undefined) await endSessions(who.account);
  else if (who.session) await endSession(who.session);
  return Response.json({}, { headers: { 'set-cookie': cookieOf(undefined) } });
});
