import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { licences, locked } from '../../tools/licences';
import { root } from '../server/instance';

test('each package of the lock has a digest and a licence, and no address of a registry', () => {
  const packages = locked();
  expect(packages.length).toBeGreaterThan(300);
  for (const { name, integrity, license, resolved } of packages) {
    expect(integrity, name).toMatch(/^sha512-/);
    expect(license, name).toBeTruthy();
    expect(resolved, name).toBeUndefined();
  }
});

test('the page of licences says what is in the lock', () => {
  // Otherwise: npx tsx tools/licences.ts
  expect(readFileSync(join(root, 'docs/licences.md'), 'utf8')).toBe(licences());
});
