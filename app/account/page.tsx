import { whoLooks } from '@/server/access/pages';
import { AccountScreen } from '@/ui/access/AccountScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const { isAdmin } = await whoLooks();
  return <AccountScreen isAdmin={isAdmin} />;
}
