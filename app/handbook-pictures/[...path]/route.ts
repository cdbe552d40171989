import { handbookPicture } from '@/server/handbook/pages';

/** A picture of the handbook. */
export async function GET(_: Request, { params }: { params: Promise<{ path: string[] }> }) {
  const picture = handbookPicture((await params).path.join('/'));
  if (!picture) return new Response('There is no such picture.', { status: 404 });
  return new Response(new Uint8Array(picture), {
    headers: { 'content-type': 'image/webp', 'cache-control': 'private, max-age=3600' },
  });
}
