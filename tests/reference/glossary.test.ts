import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { glossary } from '../../tools/glossary';
import { root } from '../server/instance';

test('the glossary has every word of the interface as it is now', () => {
  // Otherwise: node_modules/.bin/tsx tools/glossary.ts
  expect(readFileSync(join(root, 'docs/glossary.md'), 'utf8')).toBe(glossary());
});

test('no label is one of the words that have been given up', () => {
  const old =
    /\b(Only from|Turned around|Thickens|Swaths|Shown alone|Lies|Bring back|Take it out|Nothing is called|stands twice|nearest twentieth|brightest fiftieth|As air does)\b/;
  expect(old.exec(glossary())?.[0]).toBeUndefined();
});
