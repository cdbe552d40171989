import { expect, test } from 'vitest';
import { type CommandId, commands, commandWith, isOfBrowser, keysOf, keyWords } from './commands';

const all = Object.keys(commands) as CommandId[];
const ways = (id: CommandId) => commands[id].keys.split(', ');

test('no two commands have the same keys, and none has those of the browser', () => {
  const taken = all.flatMap(ways);
  expect(new Set(taken).size).toBe(taken.length);
  // What everybody expects of these in any program, the browser's text fields too.
  const everywhere = ['mod+c', 'mod+v', 'mod+z', 'mod+shift+z', 'mod+y'];
  for (const keys of taken) if (!everywhere.includes(keys)) expect(isOfBrowser(keys), keys).toBe(false);
});

test('keys of the browser and of the system are known', () => {
  // Shortcuts of Chromium (common practice; from memory).
  for (const keys of ['mod+w', 'mod+t', 'mod+d', 'mod+shift+n', 'mod+tab', 'f5', 'f11', 'alt+left', 'tab'])
    expect(isOfBrowser(keys), keys).toBe(true);
  for (const keys of ['a', 'shift+a', 'alt+up', 'mod+z', 'space', 'delete'])
    expect(isOfBrowser(keys)).toBe(false);
});

const press = (key: string, more: Partial<KeyboardEvent> = {}) =>
  keysOf({ key, ctrlKey: false, metaKey: false, shiftKey: false, altKey: false, ...more });

test('a press is written as commands write their keys', () => {
  expect(press('G')).toBe('g');
  expect(press('A', { shiftKey: true })).toBe('shift+a');
  expect(press('ArrowUp', { altKey: true })).toBe('alt+up');
  expect(press(' ')).toBe('space');
  expect(press('z', { metaKey: true, shiftKey: true })).toBe('mod+shift+z');
  expect(press('Shift', { shiftKey: true })).toBeUndefined();
  expect(press(',')).toBeUndefined();
});

test('keys are found by their command, as they were changed', () => {
  expect(commandWith('g', {})).toBe('arrangement');
  expect(commandWith('g', { arrangement: 'k' })).toBeUndefined();
  expect(commandWith('k', { arrangement: 'k' })).toBe('arrangement');
  expect(commandWith('insert', {})).toBe('add-step');
  expect(commandWith('a', {})).toBe('add-step');
});

test('keys stand on the screen in words', () => {
  expect(keyWords('mod+shift+z, mod+y')).toBe('Ctrl Shift Z');
  expect(keyWords('shift+?, ?')).toBe('?');
  expect(keyWords('alt+up')).toBe('Alt ↑');
  expect(keyWords('insert, a')).toBe('Ins');
  for (const id of all) expect(keyWords(commands[id].keys)).not.toBe('');
});
