import { expect, test } from 'vitest';
import { addStrand, joinAt, newFinish } from './edits';
import type { Strand } from './finish';
import { flatLayers } from './flat-layers';

const layer = (media: string, more = {}) => ({ media, pass: '', show: true, opacity: 1, ...more });

test('a stack shows its layers from the lowest, without those that are hidden', () => {
  const layers = [layer('sky'), layer('wing', { show: false }), layer('eyes', { opacity: 0.5 })];
  const doc = newFinish('f', 'F', { type: 'stack', layers });
  expect(flatLayers(doc).map((l) => [l.media, l.opacity])).toEqual([
    ['sky', 1],
    ['eyes', 0.5],
  ]);
});

test('strands that are joined lie above, each layer once', () => {
  const layers = [layer('sky'), layer('moth')];
  let doc = newFinish('f', 'F', { type: 'stack', layers });
  doc = addStrand(doc, { type: 'pass', media: 'bell', pass: '' }, 'picture', 'Bell').apply(doc);
  doc = addStrand(doc, { type: 'pass', media: 'moth', pass: '' }, 'picture', 'Again').apply(doc);
  for (const [i, { id }] of doc.strands.slice(1).entries())
    doc = joinAt(doc, 'main', i, { strand: id, after: 'end' }, `join-${i}`).apply(doc);
  expect(flatLayers(doc).map((l) => l.media)).toEqual(['sky', 'bell', 'moth']);
});

test('a strand that begins at another shows what that one does; one without a pass shows the first there is', () => {
  const base = newFinish('f', 'F', { type: 'tap', strand: 'bell', after: 'end' });
  const bell = {
    id: 'bell',
    name: 'Bell',
    kind: 'picture',
    head: { type: 'pass', media: 'bell', pass: '' },
    steps: [],
  } satisfies Strand;
  const split = { ...base, strands: [...base.strands, bell] };
  expect(flatLayers(split)).toEqual([{ media: 'bell', pass: '', opacity: 1 }]);
  const plain = newFinish('f', 'F', { type: 'colour', colour: [1, 1, 1], alpha: 1 } as never);
  expect(flatLayers({ ...plain, strands: [...plain.strands, bell] })[0].media).toBe('bell');
  expect(flatLayers(plain)).toEqual([]);
});
