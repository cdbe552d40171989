import { readWebhook as readRoute, setWebhook as setRoute, tryWebhook as tryRoute } from '@/api/queue';
import { answer, Refused } from '@/server/http/answer';
import { readWebhook, send, setWebhook } from '@/server/notices/webhook';

export const GET = answer(readRoute, async () => (await readWebhook()) ?? { url: '', secret: '' });
export const PUT = answer(setRoute, async ({ body }) => {
  await setWebhook(body.url);
  return {};
});
export const POST = answer(tryRoute, async () => {
  const webhook = await readWebhook();
  if (!webhook) throw new Refused('bad-request', 'There is no address yet.', 'Give one first.');
  try {
    await send(webhook, { event: 'try' });
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw new Refused(
      'refused',
      (error as Error).message,
      'See whether the address is right and takes messages.',
    );
  }
  return {};
});
