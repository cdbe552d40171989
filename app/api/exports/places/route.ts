import { listPlaces, lookAtPlace } from '@/api/exports';
import { extensionOf } from '@/core/formats/export-formats';
import { framesAsked } from '@/server/exports/asked';
import { exportFolder, exportRoots, filled, framesThere, placeWords } from '@/server/exports/place';
import { answer } from '@/server/http/answer';

export const GET = answer(listPlaces, async () => ({ roots: exportRoots() }));

export const POST = answer(lookAtPlace, async ({ body }) => {
  const words = await placeWords(body.shot, body.finish, body.version);
  const folder = exportFolder(filled(body.into, words));
  const fileName = `${filled(body.name, words)}.####.${extensionOf(body.format)}`;
  const frames = framesAsked(body.frames);
  return {
    path: `${folder}/${fileName}`,
    there: (await framesThere(folder, fileName, frames)).length,
    of: frames.length,
  };
});
