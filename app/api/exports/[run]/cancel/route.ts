import { answer, wholeNumber } from '@/server/answer';
import { cancelExport } from '@/server/exports/exports';

type At = { params: Promise<{ run: string }> };

export const POST = (_: Request, { params }: At) =>
  answer(async () => {
    await cancelExport(wholeNumber((await params).run));
    return {};
  });
