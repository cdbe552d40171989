import { cookies, headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { projectOf, roleIn } from './rights';
import { cookieName, secretIn, sessionOf, tokenOf } from './sessions';
import { isShared, keeper, type Who } from './who';

/** Who a request comes from. */

/** The address that asks: behind a proxy the last one that it has added. */
export function addressIn(given: { get(name: string): string | null }): string {
  const forwarded = process.env.ZAFIRO_PUBLIC ? given.get('x-forwarded-for') : null;
  return forwarded?.split(',').pop()?.trim() || given.get('x-zafiro-peer') || 'unknown';
}

/** Who asks, and the cookie that the answer is to carry where the session was rotated. */
export async function whoAsks(request: Request): Promise<{ who?: Who; next?: string }> {
  if (!isShared()) return { who: keeper };
  const bearer = /^Bearer (zaf_\S+)$/.exec(request.headers.get('authorization') ?? '')?.[1];
  if (bearer) return { who: await tokenOf(bearer) };
  const secret = secretIn(request);
  return (secret ? await sessionOf(secret, true) : undefined) ?? {};
}

/** Who looks at a page: others are led to the page where one signs in. */
export async function whoLooks(): Promise<Who> {
  if (!isShared()) return keeper;
  const secret = (await cookies()).get(cookieName())?.value;
  const found = secret ? await sessionOf(secret) : undefined;
  if (found) return found.who;
  const at = (await headers()).get('x-zafiro-path') ?? '/';
  redirect(`/sign-in?to=${encodeURIComponent(at)}`);
}

/** Who looks at the page of a shot; it is as if it were not there for who may not. */
export async function whoLooksAt(shot: string): Promise<Who> {
  const who = await whoLooks();
  if (!isShared() || !/^\d{1,9}$/.test(shot)) return who;
  const project = await projectOf({ shot: Number(shot) });
  if (project !== undefined && (await roleIn(project, who)) === undefined) notFound();
  return who;
}

/** Who looks at a page for administrators. */
export async function adminLooks(): Promise<Who> {
  const who = await whoLooks();
  if (!who.isAdmin) notFound();
  return who;
}
