import { browse as route } from '@/api/files';
import { rootsManaged } from '@/server/access/roots';
import { answer } from '@/server/http/answer';
import { browse } from '@/server/media/browse';

/** Folders and sequences of a folder, inside the folders that may be read. */
export const GET = answer(route, async ({ query, who }) =>
  browse(query.path ?? null, await rootsManaged(who)),
);
