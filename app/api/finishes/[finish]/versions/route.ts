import { listVersions as route } from '@/api/finishes';
import { answer } from '@/server/http/answer';
import { listVersions } from '@/server/shots/finishes';

export const GET = answer(route, ({ params }) => listVersions(params.finish));
