import { MachinesScreen } from '@/ui/queue/MachinesScreen';

export const dynamic = 'force-dynamic';

export default function Page() {
  return <MachinesScreen />;
}
