import { createExport as createRoute, listExports as listRoute } from '@/api/exports';
import { forOutput } from '@/core/finish/finish';
import { parseFinish } from '@/core/finish/validation';
import { parseFrames } from '@/core/formats/frame-pattern';
import { answer, BadRequest } from '@/server/answer';
import { createExport, listExports } from '@/server/exports/runs';

export const GET = answer(listRoute, ({ query }) => listExports(query.shot));

export const POST = answer(createRoute, async ({ body }) => {
  const { shot, document, frames, name, output, standing, movie, ...settings } = body;
  let list: number[];
  try {
    list = parseFrames(frames);
  } catch (error) {
    throw new BadRequest((error as Error).message);
  }
  const whole = parseFinish(document);
  // Each of them is there, or is named.
  for (const name of settings.outputs ?? []) forOutput(whole, name);
  const [finish, baseName] = output ? [forOutput(whole, output), `${name}_${output}`] : [whole, name];
  return { run: await createExport(shot, finish, list, settings, baseName, { standing, movie }) };
});
