import { expect, test } from 'vitest';
import { nameOf, t } from './words';

test('what is put in stands in its place, as it is', () => {
  expect(t`Delete ${'Moth <b>&amp;</b> {{0}} $t(Cancel)'}`).toBe('Delete Moth <b>&amp;</b> {{0}} $t(Cancel)');
  expect(t`${3} of ${0.5} and ${'x'}`).toBe('3 of 0.5 and x');
});

test('what is nothing leaves nothing', () => {
  expect(t`a${undefined}b${null}c${false}d${''}e${0}`).toBe('abcde0');
});

test('the first number chooses the form', () => {
  expect([0, 1, 2].map((n) => t`${n} keys`)).toEqual(['0 keys', '1 key', '2 keys']);
  expect(t`${'Radiant'}: ${1} own values`).toBe('Radiant: 1 own value');
});

test('names keep the order of what is put in', () => {
  expect(nameOf(['', ' of ', ''])).toBe('{{0}} of {{1}}');
});
