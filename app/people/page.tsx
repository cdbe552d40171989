import { adminLooks } from '@/server/access/pages';
import { PeopleScreen } from '@/ui/access/PeopleScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  await adminLooks();
  return <PeopleScreen />;
}
