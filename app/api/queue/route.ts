import { readQueue } from '@/api/queue';
import { answer } from '@/server/answer';
import { queueOverview } from '@/server/exports/overview';
import { hasSpace } from '@/server/free-space';

export const GET = answer(readQueue, async () => ({
  runs: await queueOverview(),
  diskFull: !(await hasSpace()),
}));
