import { expect, test } from 'vitest';
import { fileWords } from './file-words';

test('words of any language are joined, and nothing else is left of the text', () => {
  expect(fileWords('  Été, take_2: “Nachtfalter”! ', '_')).toBe('Été_take_2_Nachtfalter');
  // Written with a mark of its own or in one letter, it is the same name.
  expect(fileWords('E\u0301te\u0301', '-')).toBe('Été');
  expect(fileWords('***', '-')).toBe('');
});
