import { answer } from '@/server/answer';
import { isFromHere, refusal } from '@/server/loopback';
import { takeFile } from '@/server/media/uploads';

type At = { params: Promise<{ upload: string }> };

/** The name behind the upload, with its folder if it has one. */
const nameIn = (url: string) => new URL(url).pathname.split('/').slice(4).map(decodeURIComponent).join('/');

/** One file of an upload, its size told in `x-zafiro-size`. Sending it again does no harm. */
export const PUT = (request: Request, { params }: At) =>
  isFromHere(request)
    ? answer(async () => {
        const { upload } = await params;
        const size = Number(request.headers.get('x-zafiro-size'));
        return takeFile(upload, nameIn(request.url), request.body, size);
      })
    : refusal();
