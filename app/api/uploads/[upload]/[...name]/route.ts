import { sendFile } from '@/api/files';
import { fromHere } from '@/server/access/loopback';
import { answer } from '@/server/http/answer';
import { receiveFile } from '@/server/media/uploads';

/** One file of an upload, its size given in `x-zafiro-size`. Sending it again does no harm. */
export const PUT = fromHere(
  answer(sendFile, ({ params: { upload, name }, who }, request) => {
    const announced = request.headers.get('x-zafiro-size');
    const size = announced ? Number(announced) : Number.NaN;
    return receiveFile(upload, name, request.body, size, who.account);
  }),
);
