import { createExport as createRoute, listExports as listRoute } from '@/api/exports';
import { forOutput } from '@/core/finish/finish';
import { parseFinish } from '@/core/finish/validation';
import { framesAsked } from '@/server/exports/asked';
import { exportFolder, filled, placeWords } from '@/server/exports/place';
import { createExport, listExports } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const GET = answer(listRoute, ({ query }) => listExports(query.shot));

export const POST = answer(createRoute, async ({ body }) => {
  const { shot, document, frames, name, output, standing, movie, into, version, overwrites, ...settings } =
    body;
  const list = framesAsked(frames);
  const whole = parseFinish(document);
  // Each of them is there, or is named.
  for (const other of settings.outputs) forOutput(whole, other);
  const words = await placeWords(shot, whole.name, version);
  const named = filled(name, words);
  const [finish, baseName] = output ? [forOutput(whole, output), `${named}_${output}`] : [whole, named];
  const folder = into === undefined ? undefined : exportFolder(filled(into, words));
  return {
    run: await createExport(shot, finish, list, settings, baseName, {
      standing,
      movie,
      into: folder,
      overwrites,
    }),
  };
});
