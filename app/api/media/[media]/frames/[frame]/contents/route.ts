import { readContents } from '@/api/media';
import { answer } from '@/server/http/answer';
import { frameContents } from '@/server/media/contents';

/** Every pass of a frame: what it holds, by numbers. */
export const GET = answer(readContents, async ({ params }) => {
  const contents = await frameContents(params.media, params.frame);
  return contents.map(({ picture: _, ...rest }) => rest);
});
