import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { root } from '../server/instance';

const rooms = 'api|app|bench|browser|cli|core|demo|docs|engine|server|tests|tools|ui';
const named = new RegExp(`\`((?:${rooms})/[\\w./\\[\\]-]*)\``, 'g');

const pages = [
  'README.md',
  ...readdirSync(join(root, 'docs'))
    .filter((f) => f.endsWith('.md'))
    .map((f) => `docs/${f}`),
];
/** The page on steps tells one to write these. */
const told = ['core/steps/isolate/matte-gain.ts'];

test.each(pages)('%s names files that are there, and leads to pages that are there', (page) => {
  const text = readFileSync(join(root, page), 'utf8');
  const files = [...text.matchAll(named)].map(([, path]) => path);
  const links = [...text.matchAll(/\]\((?!https?:|#)([^)#\s]+)/g)].map(([, to]) => join(page, '..', to));
  const gone = [...files, ...links].filter((path) => !told.includes(path) && !existsSync(join(root, path)));
  expect(gone).toEqual([]);
});
