import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { expect, test } from 'vitest';
import { heard } from './heard';

const queryKey = ['exports', 1];

/** Answers that the test gives, one after the other. */
function asked() {
  const answers: ((done: number) => void)[] = [];
  const client = new QueryClient();
  const observer = new QueryObserver(client, {
    queryKey,
    queryFn: () => new Promise<number>((resolve) => answers.push(resolve)),
  });
  observer.subscribe(() => {});
  const settled = () => new Promise((r) => setTimeout(r, 5));
  return { client, answers, settled, known: () => client.getQueryData<number>(queryKey) };
}

test('an answer that is older than an event does not take it back', async () => {
  const { client, answers, settled, known } = asked();
  answers[0](40);
  await settled();
  expect(known()).toBe(40);
  void client.invalidateQueries({ queryKey });
  await settled();
  // On its way is what the server knew before the last frame was done.
  heard<number>(client, queryKey, () => 60);
  await settled();
  answers[1](59);
  answers[2](60);
  await settled();
  expect(known()).toBe(60);
  // With nothing on its way nothing is asked.
  heard<number>(client, queryKey, (n) => n + 1);
  await settled();
  expect([known(), answers.length]).toEqual([61, 3]);
});

test('an event that comes before the first answer is in what is asked anew', async () => {
  const { client, answers, settled, known } = asked();
  heard<number>(client, queryKey, (n) => n + 1);
  await settled();
  answers[0](0);
  answers[1]?.(1);
  await settled();
  expect(known()).toBe(1);
});
