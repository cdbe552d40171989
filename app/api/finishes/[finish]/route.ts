import { readFinish, saveFinish as saveRoute } from '@/api/finishes';
import { deleteFinish as deleteRoute } from '@/api/shelf';
import { parseFinish } from '@/core/finish/validation';
import { answer } from '@/server/http/answer';
import { deleteFinish, purgeFinish } from '@/server/shots/bin';
import { loadFinish, saveFinish } from '@/server/shots/finishes';

export const GET = answer(readFinish, ({ params }) => loadFinish(params.finish));

export const PUT = answer(saveRoute, async ({ params, body, who }) => ({
  version: await saveFinish(params.finish, {
    ...body,
    document: parseFinish(body.document),
    by: who.account === undefined ? undefined : who.name,
  }),
}));

export const DELETE = answer(deleteRoute, async ({ params, query }) => {
  await (query.forever ? purgeFinish : deleteFinish)(params.finish);
  return {};
});
