import { readFile } from 'node:fs/promises';
import { answer, wholeNumber } from '@/server/answer';
import { passPicturePath } from '@/server/media/contents';

type At = { params: Promise<{ media: string; frame: string; pass: string }> };

/** The picture of a frame's n-th pass. */
export const GET = (_: Request, { params }: At) =>
  answer(async () => {
    const { media, frame, pass } = await params;
    const path = await passPicturePath(wholeNumber(media), wholeNumber(frame), wholeNumber(pass));
    return new Response(new Uint8Array(await readFile(path)), {
      headers: { 'content-type': 'image/webp', 'cache-control': 'no-store' },
    });
  });
