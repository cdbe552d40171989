import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { expect, test } from 'vitest';
import { steps } from '../../core/steps/registry';
import { stepExamples } from '../../demo/handbook/steps';
import { handbookPages } from '../../server/handbook/pages';
import { stepPages } from '../../tools/handbook-steps';

const folder = 'docs/handbook';
const shown = steps.filter((s) => s.id !== 'recipe' && s.id !== 'recipe-input');

test('every step has a page, as its declaration says, with a picture before and after', () => {
  const pages = stepPages();
  for (const { id, name, description } of shown) {
    expect(stepExamples[id], id).toBeDefined();
    expect(pages[id]).toContain(`# ${name}`);
    expect(pages[id]).toContain(description);
    expect(pages[id]).toContain(stepExamples[id].goodFor);
    for (const at of ['before', 'after'])
      expect(existsSync(join(folder, `pictures/steps/${id}-${at}.webp`)), `${id} ${at}`).toBe(true);
  }
  // Written anew by `tools/handbook.ts` when a declaration changes.
  for (const [id, page] of Object.entries(pages))
    expect(readFileSync(join(folder, 'steps', `${id}.md`), 'utf8'), id).toBe(page);
});

test('every link of the handbook leads somewhere, and every chapter and job stands in its contents', () => {
  const pages = handbookPages();
  expect(pages[0].path).toBe('index');
  const lost: string[] = [];
  const reached = new Set<string>();
  for (const { path, text } of pages)
    for (const [, link] of text.matchAll(/\]\(([^)]+)\)/g)) {
      if (/^[a-z]+:|^#/.test(link)) continue;
      const target = normalize(join(dirname(path), link));
      if (!existsSync(join(folder, target))) lost.push(`${path}: ${link}`);
      if (path === 'index') reached.add(target.replace(/\.md$/, ''));
    }
  expect(lost).toEqual([]);
  for (const { path } of pages)
    if (!path.startsWith('steps/') && path !== 'index') expect(reached, path).toContain(path);
  expect(pages.filter((p) => p.path.startsWith('jobs/'))).toHaveLength(8);
});
