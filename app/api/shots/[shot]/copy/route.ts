import { copyShot as route } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { copyShot } from '@/server/shots/arrange';

export const POST = answer(route, async ({ params }) => ({ shot: await copyShot(params.shot) }));
