import { answer, wholeNumber } from '@/server/answer';
import { frameContents } from '@/server/media/contents';

type At = { params: Promise<{ media: string; frame: string }> };

/** Every pass of a frame: what it holds, by numbers. */
export const GET = (_: Request, { params }: At) =>
  answer(async () => {
    const { media, frame } = await params;
    const contents = await frameContents(wholeNumber(media), wholeNumber(frame));
    return contents.map(({ picture: _, ...told }) => told);
  });
