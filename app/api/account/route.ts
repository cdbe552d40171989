import { readAccount } from '@/api/access';
import { accountNamed } from '@/server/access/accounts';
import { sessionsOf, tokensOf } from '@/server/access/sessions';
import { answer } from '@/server/http/answer';

export const GET = answer(readAccount, async ({ who }) => {
  if (who.account === undefined) return {};
  const { name, isAdmin, hasSecondFactor } = await accountNamed(who.name);
  const [sessions, tokens] = await Promise.all([sessionsOf(who.account), tokensOf(who.account)]);
  return {
    account: {
      name,
      isAdmin,
      hasSecondFactor,
      sessions: sessions.map((s) => ({
        address: s.address,
        agent: s.agent,
        begunAt: s.created_at.toISOString(),
        seenAt: s.seen_at.toISOString(),
        isThis: s.hash === who.session,
      })),
      tokens: tokens.map((token) => ({
        id: token.id,
        name: token.name,
        scope: token.scope,
        expiresAt: token.expires_at.toISOString(),
        usedAt: token.used_at?.toISOString() ?? null,
      })),
    },
  };
});
