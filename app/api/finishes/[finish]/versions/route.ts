import { answer, wholeNumber } from '@/server/answer';
import { listVersions } from '@/server/shots/finishes';

type At = { params: Promise<{ finish: string }> };

/** Saved versions, the newest first. */
export const GET = (_: Request, { params }: At) =>
  answer(async () => listVersions(wholeNumber((await params).finish)));
