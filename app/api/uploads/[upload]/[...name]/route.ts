import { sendFile } from '@/api/files';
import { answer } from '@/server/answer';
import { fromHere } from '@/server/loopback';
import { takeFile } from '@/server/media/uploads';

/** One file of an upload, its size given in `x-zafiro-size`. Sending it again does no harm. */
export const PUT = fromHere(
  answer(sendFile, async ({ params: { upload, name } }, request) => {
    const size = Number(request.headers.get('x-zafiro-size'));
    return takeFile(upload, name, request.body, size);
  }),
);
