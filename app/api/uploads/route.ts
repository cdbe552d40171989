import { beginUpload as route } from '@/api/files';
import { answer } from '@/server/answer';
import { fromHere } from '@/server/loopback';
import { beginUpload } from '@/server/media/uploads';

/** A place for files to come. */
export const POST = fromHere(answer(route, async ({ who }) => ({ upload: await beginUpload(who.account) })));
