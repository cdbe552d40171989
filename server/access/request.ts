import { secretIn, sessionOf, tokenOf } from './sessions';
import { isShared, keeper, type Who } from './who';

/** Who a request comes from. */

/** The address that asks: behind a proxy the last one that it has added. */
export function addressIn(given: { get(name: string): string | null }): string {
  const forwarded = process.env.ZAFIRO_PUBLIC ? given.get('x-forwarded-for') : null;
  return forwarded?.split(',').pop()?.trim() || given.get('x-zafiro-peer') || 'unknown';
}

/** Who asks, and the cookie that the answer is to carry where the session was rotated; an answer that is on its way can carry none. */
export async function whoAsks(request: Request, mayRotate = true): Promise<{ who?: Who; next?: string }> {
  if (!isShared()) return { who: keeper };
  const bearer = /^Bearer (zaf_\S+)$/.exec(request.headers.get('authorization') ?? '')?.[1];
  if (bearer) return { who: await tokenOf(bearer) };
  const secret = secretIn(request);
  return (secret ? await sessionOf(secret, mayRotate) : undefined) ?? {};
}
