import { expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import { toggleKey } from '../../core/finish/key-edits';
import { keyedFramesOf } from '../../core/finish/keys';
import { beside } from './keyed-frames';
import { runsOf } from './runs';

test('neighbours make one run', () => {
  expect(runsOf(1, 9, (f) => [1, 2, 3, 6, 8, 9].includes(f))).toEqual([
    [1, 3],
    [6, 6],
    [8, 9],
  ]);
  expect(runsOf(4, 4, () => false)).toEqual([]);
});

test('the next and the one before, if there is one', () => {
  expect([beside([2, 5, 9], 5, 1), beside([2, 5, 9], 5, -1)]).toEqual([9, 2]);
  expect([beside([2, 5, 9], 9, 1), beside([2, 5, 9], 2, -1)]).toEqual([undefined, undefined]);
});

test('keys are those of the selected step, or of all where it has none', () => {
  const head = { type: 'pass', media: 'hall', pass: '' } as const;
  let doc = addStep('main', 0, 'bloom', 'one').apply(newFinish('f', 'F', head));
  doc = addStep('main', 1, 'bloom', 'two').apply(doc);
  doc = addStep('main', 2, 'bloom', 'none').apply(doc);
  for (const [step, key, frame] of [
    ['one', 'amount', 9],
    ['one', 'radius', 2],
    ['two', 'amount', 5],
    ['two', 'radius', 9],
  ] as const)
    doc = toggleKey(doc, step, key, frame).apply(doc);
  expect(keyedFramesOf(doc, 'one')).toEqual([2, 9]);
  expect(keyedFramesOf(doc, 'none')).toEqual([2, 5, 9]);
  expect(keyedFramesOf(doc, undefined)).toEqual([2, 5, 9]);
});
