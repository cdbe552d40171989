import { joinFarm } from '@/api/node';
import { answer, Refused } from '@/server/http/answer';
import { addMachine, beatMillis, buildId } from '@/server/nodes/machines';

export const POST = answer(joinFarm, async ({ body }) => {
  if (body.build !== buildId())
    throw new Refused(
      'conflict',
      `This machine has Zafiro ${body.build}, the server ${buildId()}.`,
      'Only the same build gives the same frames: bring both to one version and build them.',
    );
  return { node: await addMachine(body), beatMillis };
});
