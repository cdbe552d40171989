import { QueueScreen } from '@/ui/queue/QueueScreen';

export const dynamic = 'force-dynamic';

export default function Page() {
  return <QueueScreen />;
}
