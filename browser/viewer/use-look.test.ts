import { expect, test } from 'vitest';
import { addStep, addStrand, newFinish } from '../../core/finish/edits';
import { shownPoint } from './use-look';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const lit = addStep('main', 0, 'bloom', 'bloom').apply(newFinish('hall', 'Hall', head));
const finish = addStrand(lit, head, 'picture', 'Other').apply(lit);
const at = (shows: 'finished' | 'selected', selected?: string, before = false) =>
  shownPoint({ finish, shows, selected, before });

test('the viewer looks at the end, at what is selected, or before it', () => {
  expect(at('finished', 'bloom')).toEqual({ strand: 'main', after: 'end' });
  expect(at('finished', 'bloom', true)).toEqual({ strand: 'main', after: 'head' });
  expect(at('selected', 'bloom')).toEqual({ strand: 'main', after: 'bloom' });
  expect(at('selected', 'bloom', true)).toEqual({ strand: 'main', after: 'head' });
  expect(at('selected', 'strand')).toEqual({ strand: 'strand', after: 'head' });
});

test('where what was selected is gone, it shows the finished picture', () => {
  expect(at('selected', 'taken-back')).toEqual({ strand: 'main', after: 'end' });
  expect(at('selected')).toEqual({ strand: 'main', after: 'end' });
});
