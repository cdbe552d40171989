import { listMachines as route } from '@/api/machines';
import { projectsSeen } from '@/server/access/rights';
import { isShared } from '@/server/access/who';
import { answer } from '@/server/http/answer';
import { listMachines } from '@/server/nodes/machines';
import { nodeToken } from '@/server/nodes/token';

export const GET = answer(route, async ({ who }, request) => {
  const others = process.env.ZAFIRO_NODES_AT;
  const address = others ?? `http://${request.headers.get('host')}`;
  return {
    machines: await listMachines(await projectsSeen(who)),
    joining: { address, isForOthers: others !== undefined, token: isShared() ? '' : nodeToken() },
  };
});
