import { readQueue } from '@/api/queue';
import { projectsSeen } from '@/server/access/rights';
import { hasSpace } from '@/server/base/free-space';
import { queueOverview } from '@/server/exports/overview';
import { answer } from '@/server/http/answer';

export const GET = answer(readQueue, async ({ who }) => ({
  runs: await queueOverview(await projectsSeen(who)),
  diskFull: !(await hasSpace()),
}));
