import { expect, test } from 'vitest';
import { nameRank } from './search';

test('a name that is typed comes before names that have it, and those before descriptions', () => {
  const found = ['Mist density', 'After a glow', 'Glow', 'Glow, wide'];
  const sorted = [...found].sort((a, b) => nameRank(a, 'glow') - nameRank(b, 'glow'));
  expect(sorted).toEqual(['Glow', 'Glow, wide', 'After a glow', 'Mist density']);
  expect(nameRank('Edge light', 'light edge')).toBe(1);
  // Nothing typed: all are alike.
  expect(found.map((n) => nameRank(n, ' '))).toEqual([0, 0, 0, 0]);
});
