import { expect, test } from 'vitest';
import { found, passageOf } from './search';

const pages = [
  { path: 'light', title: 'Light', text: '# Light\n\nA [Bloom](steps/bloom.md) is the halo of a camera.' },
  { path: 'steps/bloom', title: 'Bloom', text: '# Bloom\n\nA soft halo around bright light. Bloom, bloom.' },
  { path: 'air', title: 'Air', text: '# Air\n\n![bloom](pictures/a.webp)\nMist over a depth pass.' },
];

test('pages that have every word are found, those with it in their title first', () => {
  expect(found(pages, 'bloom').map((p) => p.path)).toEqual(['steps/bloom', 'light']);
  expect(found(pages, 'halo camera').map((p) => p.path)).toEqual(['light']);
  expect(found(pages, 'LIGHT')[0].path).toBe('light');
  expect(found(pages, ' ')).toEqual([]);
  expect(found(pages, 'nowhere')).toEqual([]);
});

test('a passage shows the words without the marks of Markdown', () => {
  expect(passageOf(pages[0], 'halo')).toBe('Light A Bloom is the halo of a camera. …');
  const long = { ...pages[0], text: `${'air '.repeat(100)}needle in the air` };
  expect(passageOf(long, 'needle')).toMatch(/^… .*needle in the air …$/);
});
