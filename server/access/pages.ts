import { cookies, headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { projectOf, roleIn } from './rights';
import { cookieName, sessionOf } from './sessions';
import { isShared, keeper, type Who } from './who';

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
