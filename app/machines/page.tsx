import { whoLooks } from '@/server/access/pages';
import { MachinesScreen } from '@/ui/queue/MachinesScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  await whoLooks();
  return <MachinesScreen />;
}
