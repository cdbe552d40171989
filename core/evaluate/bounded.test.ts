import { expect, test } from 'vitest';
import { Bounded } from './bounded';

test('drops what was used least recently, counts each key once, keeps the newest however large', () => {
  const store = new Bounded<number>(10);
  for (const key of ['a', 'b', 'c']) store.set(key, 1, 3);
  store.get('a');
  store.set('d', 1, 4);
  expect(['a', 'b', 'c', 'd'].filter((k) => store.get(k))).toEqual(['a', 'c', 'd']);
  store.set('d', 2, 4);
  expect(store.bytes).toBe(10);
  store.set('huge', 1, 99);
  expect(['a', 'c', 'd', 'huge'].filter((k) => store.get(k))).toEqual(['huge']);
});
