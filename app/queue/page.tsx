import { whoLooks } from '@/server/access/pages';
import { QueueScreen } from '@/ui/queue/QueueScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  await whoLooks();
  return <QueueScreen />;
}
