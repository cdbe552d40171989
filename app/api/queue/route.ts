import { readQueue } from '@/api/queue';
import { projectsSeen } from '@/server/access/rights';
import { answer } from '@/server/answer';
import { queueOverview } from '@/server/exports/overview';
import { hasSpace } from '@/server/free-space';

export const GET = answer(readQueue, async ({ who }) => ({
  runs: await queueOverview(await projectsSeen(who)),
  diskFull: !(await hasSpace()),
}));
