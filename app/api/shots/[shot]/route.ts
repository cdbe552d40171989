import { answer, NotFound, wholeNumber } from '@/server/answer';
import { shotDetail } from '@/server/shots/shots';

type At = { params: Promise<{ shot: string }> };

export const GET = (_: Request, { params }: At) =>
  answer(async () => {
    const shot = await shotDetail(wholeNumber((await params).shot));
    if (!shot) throw new NotFound('This shot is not there any more.');
    return shot;
  });
