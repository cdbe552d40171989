import { describe, expect, test } from 'vitest';
import type { Run } from '../../core/evaluate/run';
import { jobQueue } from './queue';
import { ask, newCounters, type Purpose } from './requests';

const engine = Promise.resolve({ runtime: {}, source: {}, cache: {} } as never);
const settle = () => new Promise((done) => setTimeout(done, 5));

function started() {
  const jobs = jobQueue();
  const counters = newCounters();
  jobs.setCounters(counters);
  const order: string[] = [];
  /** A job that waits for its fetch until it is let go. */
  const fetching = (purpose: Purpose, name: string) => {
    let go = () => {};
    let begun = 0;
    const made = jobs.add(
      purpose,
      ask(counters, purpose),
      engine,
      (run: Run) =>
        new Promise<string>((done, failed) => {
          begun++;
          order.push(`${name} begins`);
          go = () => done(name);
          run.signal?.addEventListener('abort', () => {
            order.push(`${name} ends its fetch`);
            failed(run.signal?.reason);
          });
        }),
    );
    return { made, go: () => go(), begun: () => begun };
  };
  return { jobs, order, fetching };
}

describe('jobs of the engine', () => {
  test('one that is overtaken while it fetches ends its fetch, and is answered with nothing', async () => {
    const { order, fetching } = started();
    const first = fetching('viewer', 'first');
    await settle();
    const second = fetching('viewer', 'second');
    expect(await first.made).toBeUndefined();
    await settle();
    second.go();
    expect(await second.made).toBe('second');
    expect(order).toEqual(['first begins', 'first ends its fetch', 'second begins']);
  });

  test('a less urgent one makes way while it fetches, and begins again after', async () => {
    const { order, fetching } = started();
    const small = fetching('thumbnails', 'small');
    await settle();
    const shown = fetching('viewer', 'shown');
    await settle();
    shown.go();
    expect(await shown.made).toBe('shown');
    await settle();
    expect(small.begun()).toBe(2);
    small.go();
    expect(await small.made).toBe('small');
    expect(order.slice(0, 3)).toEqual(['small begins', 'small ends its fetch', 'shown begins']);
  });

  test('a failure reaches the caller, and the next job is done', async () => {
    const { jobs, fetching } = started();
    await expect(
      jobs.add('scopes', 1, engine, async () => {
        throw new Error('Frame 3 is not there.');
      }),
    ).rejects.toThrow('Frame 3 is not there.');
    const next = fetching('viewer', 'next');
    await settle();
    next.go();
    expect(await next.made).toBe('next');
  });

  test('every caller gets the error of an engine that cannot start', async () => {
    const jobs = jobQueue();
    const broken = Promise.reject(new Error('No memory.'));
    broken.catch(() => {});
    for (const number of [1, 2])
      await expect(jobs.add('viewer', number, broken as never, async () => 1)).rejects.toThrow('No memory.');
  });
});
