import { expect, test } from 'vitest';
import { steps } from '../steps/registry';
import { addStep, newFinish } from './edits';
import { usualValues } from './usual-values';

test('a step that is added has the values that it is said to begin with, in a picture of any width', () => {
  const doc = newFinish('f', 'F', { type: 'pass', media: 'm', pass: '' });
  for (const width of [320, 960, 1920, 4096, 8192])
    for (const spec of steps) {
      const added = addStep('main', 0, spec.id, 'it', width).apply(doc);
      expect(added.strands[0].steps[0].values, `${spec.id} at ${width}`).toEqual(usualValues(spec, width));
    }
});

test('what is rare of a step is one of its values, and never the value on its card', () => {
  for (const { id, rare = [], values, summaryValue } of steps)
    for (const key of rare) {
      expect(values[key], `${id} ${key}`).toBeDefined();
      expect(key, id).not.toBe(summaryValue);
    }
});
