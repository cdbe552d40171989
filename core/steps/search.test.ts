import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { steps } from './registry';
import { searched, searchRank } from './search';
import type { StepSpec } from './shared/define';

const found = (typed: string) =>
  searched(steps, typed, (s: StepSpec) => ({
    ...s,
    inside: Object.values(s.values).map((v) => v.name),
  })).map((s) => s.id);

describe('steps are found by what people call them, and by what they want to happen', () => {
  test.each([
    ['fog', 'depth-mist'],
    ['haze', 'depth-mist'],
    ['sharper', 'sharpen'],
    ['exposure', 'gain'],
    ['dof', 'defocus'],
    ['bokeh', 'defocus'],
    ['title', 'caption'],
    ['crop', 'transform'],
    ['denoise', 'repair'],
    ['merge', 'join'],
    ['god rays', 'light-rays'],
    ['lut', 'lookup-table'],
    ['halo', 'bloom'],
    ['star', 'spikes'],
    ['motion blur', 'motion-smear'],
    ['lens flare', 'lens-reflections'],
    ['chromatic aberration', 'fringe'],
    ['tone mapping', 'tone-curve'],
    ['shadow', 'form-shade'],
    ['rim light', 'edge-light'],
  ])('%s', (typed, id) => expect(found(typed).slice(0, 3)).toContain(id));

  test('every step has words of its own, none of them its name', () => {
    for (const { id, name, words = [] } of steps) {
      expect(words.length, id).toBeGreaterThan(2);
      expect(
        words.map((w) => w.toLowerCase()),
        id,
      ).not.toContain(name.toLowerCase());
      expect(new Set(words).size, id).toBe(words.length);
    }
  });

  test('every word that the handbook gives as an example finds a step', () => {
    const folder = 'docs/handbook';
    const pages = [...readdirSync(folder), ...readdirSync(join(folder, 'jobs')).map((f) => join('jobs', f))];
    const examples = pages
      .filter((f) => f.endsWith('.md'))
      .flatMap((f) => {
        const text = readFileSync(join(folder, f), 'utf8').replace(/\s+/g, ' ');
        const typed = [...text.matchAll(/type `([^`]+)`/g)].map((m) => m[1]);
        const wanted = /Type what you want to happen: ((?:"[^"]+"(?:, )?)+)/.exec(text);
        return [...typed, ...(wanted ? [...wanted[1].matchAll(/"([^"]+)"/g)].map((m) => m[1]) : [])];
      });
    expect(examples.length).toBeGreaterThan(4);
    for (const typed of examples) expect(found(typed).length, typed).toBeGreaterThan(0);
  });
});

test('the very name comes first, then names that begin with it, that have it, other words, values, descriptions', () => {
  const names = ['Glow, wide', 'After a glow', 'Glow'].map((name) => ({ name }));
  expect(searched(names, 'glow', (n) => n).map((n) => n.name)).toEqual([
    'Glow',
    'Glow, wide',
    'After a glow',
  ]);
  expect(searchRank({ name: 'Bloom', words: ['halo'] }, 'Halo')).toBe(3);
  expect(searchRank({ name: 'Bloom', words: ['soft light'] }, 'light')).toBe(4);
  expect(searchRank({ name: 'Gain', inside: ['Exposure'] }, 'expo')).toBe(5);
  expect(searchRank({ name: 'Gain', description: 'Warms one thing.' }, 'thing warms')).toBe(6);
  expect(searchRank({ name: 'Gain' }, 'fog')).toBeUndefined();
  // Nothing typed: all, in their order.
  expect(searched(names, ' ', (n) => n)).toEqual(names);
});
