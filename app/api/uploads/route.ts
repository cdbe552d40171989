import { beginUpload as route } from '@/api/files';
import { fromHere } from '@/server/access/loopback';
import { answer } from '@/server/http/answer';
import { beginUpload } from '@/server/media/uploads';

/** A place for files to come. */
export const POST = fromHere(answer(route, async ({ who }) => ({ upload: await beginUpload(who.account) })));
