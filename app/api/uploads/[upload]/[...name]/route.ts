import { sendFile } from '@/api/files';
import { answer } from '@/server/answer';
import { fromHere } from '@/server/loopback';
import { countUpload, needQuota, takeFile } from '@/server/media/uploads';

/** One file of an upload, its size given in `x-zafiro-size`. Sending it again does no harm. */
export const PUT = fromHere(
  answer(sendFile, async ({ params: { upload, name }, who }, request) => {
    const size = Number(request.headers.get('x-zafiro-size'));
    await needQuota(who.account, size);
    const taken = await takeFile(upload, name, request.body, size);
    await countUpload(upload, taken.bytes);
    return taken;
  }),
);
