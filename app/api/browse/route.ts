import { browse as route } from '@/api/files';
import { answer } from '@/server/answer';
import { browse } from '@/server/media/browse';

/** Folders and sequences of a folder, inside the folders that may be read. */
export const GET = answer(route, async ({ query }) => browse(query.path ?? null));
