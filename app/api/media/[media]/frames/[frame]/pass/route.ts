import { readBytes, readPass } from '@/engine/node/media-file';
import { answer, NotFound, wholeNumber } from '@/server/answer';
import { findMedia, mediaPath } from '@/server/media/frames';

type At = { params: Promise<{ media: string; frame: string }> };

/**
 * Samples of one pass (`?name=`), plane after plane in the type of the file, little-endian; what they are stands in the
 * header `x-zafiro-pass`. An address with `content` may be kept for good.
 */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const { media: id, frame: number } = await params;
    const media = await findMedia(wholeNumber(id));
    if (!media) throw new NotFound('This media is not there any more.');
    const frame = wholeNumber(number);
    const query = new URL(request.url).searchParams;
    const path = mediaPath(media, frame);
    const about = `Frame ${frame}: `;
    const { header, pass, planes } = readPass(path, readBytes(path, about), query.get('name') ?? '', about);
    const bytes = new Uint8Array(planes.reduce((sum, p) => sum + p.byteLength, 0));
    let at = 0;
    for (const p of planes) {
      bytes.set(new Uint8Array(p.buffer, p.byteOffset, p.byteLength), at);
      at += p.byteLength;
    }
    const { dataWindow, displayWindow } = header;
    return new Response(bytes, {
      headers: {
        'content-type': 'application/octet-stream',
        'x-zafiro-pass': encodeURIComponent(JSON.stringify({ pass, dataWindow, displayWindow })),
        'cache-control': query.has('content') ? 'private, max-age=31536000, immutable' : 'no-store',
      },
    });
  });
