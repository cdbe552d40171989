import { answer } from '@/server/answer';
import { browse } from '@/server/media/browse';

/** Folders and sequences of a folder (`?path=`), inside the folders that may be read. */
export const GET = (request: Request) =>
  answer(async () => browse(new URL(request.url).searchParams.get('path')));
