import { redirect } from 'next/navigation';
import { ownPath } from '@/server/access/redirect';
import { isShared } from '@/server/access/who';
import { SignIn } from '@/ui/access/SignIn';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const { to } = await searchParams;
  if (!isShared()) redirect('/');
  return <SignIn to={ownPath(to)} />;
}
