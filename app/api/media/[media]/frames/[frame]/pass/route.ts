import { passPicture, strandKind } from '@/core/formats/passes';
import { openDesk } from '@/core/kernels/desk';
import { pickCentres, shrink } from '@/core/kernels/sample';
import { threadMachine } from '@/engine/node/machine';
import { answer, BadRequest, NotFound, wholeNumber } from '@/server/answer';
import { decodedPass } from '@/server/media/decoded';
import { findMedia } from '@/server/media/frames';

type At = { params: Promise<{ media: string; frame: string }> };

/** Plane after plane, as the file has them. */
function inARow(
  planes: { buffer: ArrayBufferLike; byteOffset: number; byteLength: number }[],
): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(planes.reduce((sum, p) => sum + p.byteLength, 0));
  let at = 0;
  for (const p of planes) {
    bytes.set(new Uint8Array(p.buffer, p.byteOffset, p.byteLength), at);
    at += p.byteLength;
  }
  return bytes;
}

/** RGBA floats of the pass made smaller, by the engine's own kernels: the bits that the browser would come to. */
function draftOf({ pass, planes, header }: ReturnType<typeof decodedPass>, scale: number) {
  const desk = openDesk(threadMachine());
  try {
    const whole = passPicture(desk, pass, planes, header.dataWindow, header.displayWindow);
    const { width, height, data } = (strandKind(pass) === 'data' ? pickCentres : shrink)(desk, whole, scale);
    return { width, height, bytes: inARow([data]) };
  } finally {
    desk.clear();
  }
}

/**
 * Samples of one pass (`?name=`), plane after plane in the type of the file, little-endian; or with `scale` below 1 the pass
 * made smaller, as RGBA floats. What they are stands in the header `x-zafiro-pass`. An address with `content` may be kept for good.
 */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const { media: id, frame: number } = await params;
    const media = await findMedia(wholeNumber(id));
    if (!media) throw new NotFound('This media is not there any more.');
    const query = new URL(request.url).searchParams;
    const scale = Number(query.get('scale') ?? 1);
    if (!(scale > 0 && scale <= 1)) throw new BadRequest('A scale lies above 0 and is at most 1.');
    const decoded = decodedPass(media, wholeNumber(number), query.get('name') ?? '');
    const { dataWindow, displayWindow } = decoded.header;
    const draft = scale < 1 ? draftOf(decoded, scale) : undefined;
    const told = draft
      ? { width: draft.width, height: draft.height }
      : { pass: decoded.pass, dataWindow, displayWindow };
    return new Response(draft?.bytes ?? inARow(decoded.planes), {
      headers: {
        'content-type': 'application/octet-stream',
        'x-zafiro-pass': encodeURIComponent(JSON.stringify(told)),
        'cache-control': query.has('content') ? 'private, max-age=31536000, immutable' : 'no-store',
      },
    });
  });
