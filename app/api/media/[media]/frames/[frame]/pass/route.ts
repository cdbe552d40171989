import { frameFile } from '@/engine/node/media';
import { answer, BadRequest, wholeNumber } from '@/server/answer';
import { specOf, wantedMedia } from '@/server/media/frames';
import { readPassOf } from '@/server/media/reader/reader';

type At = { params: Promise<{ media: string; frame: string }> };

/**
 * Samples of one pass (`?name=`), plane after plane in the type of the file, little-endian; or with `scale` below 1 the pass
 * made smaller, as RGBA floats. What they are stands in the header `x-zafiro-pass`. An address with `content` may be kept for good.
 */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const { media: id, frame: number } = await params;
    const media = await wantedMedia(wholeNumber(id));
    const query = new URL(request.url).searchParams;
    const scale = Number(query.get('scale') ?? 1);
    if (!(scale > 0 && scale <= 1)) throw new BadRequest('A scale lies above 0 and is at most 1.');
    const frame = wholeNumber(number);
    const wishes = specOf(media);
    const { path, empty } = frameFile({ [media.name]: wishes }, media.name, frame);
    const name = query.get('name') ?? '';
    const { told, bytes } = await readPassOf({ path, about: `Frame ${frame}: `, wishes, name, scale, empty });
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'content-type': 'application/octet-stream',
        'x-zafiro-pass': encodeURIComponent(JSON.stringify(told)),
        'cache-control': query.has('content') ? 'private, max-age=31536000, immutable' : 'no-store',
      },
    });
  });
