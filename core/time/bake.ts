import type { Key } from './keys';

/**
 * Keys that go straight from one to the next and are nowhere further than `tolerance` from the values, one a frame from `first` on: the fewest that
 * splitting at the furthest finds (D. H. Douglas and T. K. Peucker 1973, measured in the value).
 */
export function thinned(values: readonly number[], first: number, tolerance: number): Key<number>[] {
  const kept = new Set([0, values.length - 1]);
  const spans: [number, number][] = [[0, values.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [a, b] = span;
    let [at, most] = [-1, tolerance];
    for (let i = a + 1; i < b; i++) {
      const off = Math.abs(values[i] - (values[a] + ((values[b] - values[a]) * (i - a)) / (b - a)));
      if (off > most) [at, most] = [i, off];
    }
    if (at < 0) continue;
    kept.add(at);
    spans.push([a, at], [at, b]);
  }
  return [...kept]
    .sort((a, b) => a - b)
    .map((i) => ({ frame: first + i, value: values[i], interpolation: 'linear' }));
}
