import { answer } from '@/server/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { toldAt } from '@/server/media/reader/reader';

type At = { params: Promise<{ media: string; frame: string }> };

/** What a frame's file says beside its pixels: names of objects by id-matte, and where the camera stands. */
export const GET = (_: Request, { params }: At) => answer(async () => toldAt(await frameQuestion(params)));
