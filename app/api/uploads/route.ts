import { answer } from '@/server/answer';
import { isFromHere, refusal } from '@/server/loopback';
import { beginUpload } from '@/server/media/uploads';

/** A place for files to come. */
export const POST = (request: Request) =>
  isFromHere(request) ? answer(async () => ({ upload: beginUpload() })) : refusal();
