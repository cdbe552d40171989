import { expect, test } from 'vitest';
import type { ShelfProject, ShelfShot } from '@/api/shelf';
import { shownProjects } from './order';

const shot = (id: number, name: string, more: Partial<ShelfShot> = {}): ShelfShot => ({
  id,
  name,
  first: 1,
  last: 2,
  rate: 24,
  width: 4,
  height: 4,
  frame: null,
  layers: [],
  arrived: 0,
  expected: 2,
  archived: false,
  addedAt: `2026-01-0${id}T00:00:00.000Z`,
  openedAt: null,
  openedFinish: null,
  finishes: [{ id, name: 'First finish', version: 1, poster: null, savedAt: '' }],
  exporting: null,
  ...more,
});
const projects: ShelfProject[] = [
  {
    id: 1,
    name: 'Orrery Hall',
    archived: false,
    looksOnly: false,
    addedAt: '',
    shots: [
      shot(1, 'Shot 10'),
      shot(2, 'Shot 2', { openedAt: '2026-02-01' }),
      shot(3, 'Shot 3', { archived: true }),
    ],
  },
  { id: 2, name: 'Empty', archived: false, looksOnly: false, addedAt: '', shots: [] },
  { id: 3, name: 'Moth', archived: true, looksOnly: false, addedAt: '', shots: [shot(4, 'Wing')] },
];
const names = (shown: ShelfProject[]) => shown.map((p) => [p.name, p.shots.map((s) => s.name)]);

test('what was opened last stands on top; an empty project is there, what is archived is not', () => {
  expect(names(shownProjects(projects, '', 'opened', false))).toEqual([
    ['Orrery Hall', ['Shot 2', 'Shot 10']],
    ['Empty', []],
  ]);
});

test('names are ordered as people count', () => {
  expect(
    shownProjects(projects, '', 'name', false)
      .find((p) => p.id === 1)!
      .shots.map((s) => s.name),
  ).toEqual(['Shot 2', 'Shot 10']);
  expect(shownProjects(projects, '', 'added', false).map((p) => p.id)).toEqual([2, 1]);
});

test('words are looked for in the names of projects, shots and finishes', () => {
  expect(names(shownProjects(projects, 'orrery 10', 'name', false))).toEqual([['Orrery Hall', ['Shot 10']]]);
  expect(names(shownProjects(projects, 'first', 'name', false))).toEqual([
    ['Orrery Hall', ['Shot 2', 'Shot 10']],
  ]);
  expect(names(shownProjects(projects, 'wing', 'name', false))).toEqual([]);
  expect(names(shownProjects(projects, 'wing', 'name', true))).toEqual([['Moth', ['Wing']]]);
  expect(names(shownProjects(projects, 'empty', 'name', false))).toEqual([['Empty', []]]);
});
