import { adminLooks } from '@/server/access/pages';
import { RecordScreen } from '@/ui/access/RecordScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  await adminLooks();
  return <RecordScreen />;
}
