import { expect, test } from 'vitest';
import { ownPath } from './redirect';

test.each([
  ['/shots/3?finish=2#x', '/shots/3?finish=2#x'],
  ['/\t/elsewhere.example/', '/'],
  ['/%09/elsewhere.example', '/%09/elsewhere.example'],
  ['//elsewhere.example', '/'],
  ['/\\elsewhere.example', '/'],
  ['/./\t/elsewhere.example', '/'],
  ['/.//elsewhere.example', '/'],
  ['https://elsewhere.example/', '/'],
  ['javascript:alert(1)', '/'],
  [undefined, '/'],
])('%j leads to %j', (to, leads) => {
  expect(ownPath(to)).toBe(leads);
  // Read once more as a browser does, it stays here.
  expect(new URL(ownPath(to), 'http://here.invalid').origin).toBe('http://here.invalid');
});
