import { redirect } from 'next/navigation';
import { isShared } from '@/server/access/who';
import { SignIn } from '@/ui/access/SignIn';

export const dynamic = 'force-dynamic';

/** Leads back to a page of this server alone. */
const inside = (to: string | undefined) => (to && /^\/(?![/\\])/.test(to) ? to : '/');

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const { to } = await searchParams;
  if (!isShared()) redirect('/');
  return <SignIn to={inside(to)} />;
}
