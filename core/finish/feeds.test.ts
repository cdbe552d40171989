import { expect, test } from 'vitest';
import type { Edit } from './edit';
import { addStep, addStrand, linkSlot, newFinish, setBypass } from './edits';
import { feedsOf, linksAt } from './feeds';

/** Main: bloom (its mask from the key), blur. A strand of its own: key, feather. One more that nothing takes from. */
function tangled() {
  let doc = newFinish('f', 'F', { type: 'pass', media: 'm', pass: '' });
  const by = (make: (d: typeof doc) => Edit) => {
    doc = make(doc).apply(doc);
  };
  by((d) => addStrand(d, { type: 'tap', strand: 'main', after: 'head' }, 'picture', 'Key'));
  const key = doc.strands[1].id;
  by((d) => addStrand(d, { type: 'pass', media: 'm', pass: 'depth' }, 'data', 'Alone'));
  by(() => addStep(key, 0, 'luminance-key', 'bright'));
  by(() => addStep(key, 1, 'feather', 'soft'));
  by(() => addStep('main', 0, 'bloom', 'bloom'));
  by(() => addStep('main', 1, 'blur', 'blur'));
  by((d) => linkSlot(d, 'bloom', 'mask', { strand: key, after: 'bright' }));
  return { doc, key, alone: doc.strands[2].id };
}

test('what feeds a point is everything whose result reaches it, and nothing else', () => {
  const { doc, key, alone } = tangled();
  expect([...feedsOf(doc, 'blur')].sort()).toEqual(['bloom', 'blur', 'bright', key, 'main'].sort());
  expect([...feedsOf(doc, 'soft')].sort()).toEqual(['bright', key, 'main', 'soft'].sort());
  expect([...feedsOf(doc, 'main')]).toEqual(['main']);
  expect([...feedsOf(doc, alone)]).toEqual([alone]);
  expect([...feedsOf(doc, 'gone')]).toEqual([]);
});

test('a step that is bypassed passes on what comes to it, and its slots feed nothing', () => {
  const { doc, key } = tangled();
  const off = setBypass(doc, 'bloom', true).apply(doc);
  expect(feedsOf(off, 'blur').has(key)).toBe(false);
  expect(feedsOf(off, 'blur').has('bloom')).toBe(true);
});

test('links are told from both of their ends', () => {
  const { doc, key } = tangled();
  expect(linksAt(doc, 'bloom')).toEqual([
    { id: 'bright', label: 'mask: Luminance key of Key', direction: 'from' },
  ]);
  expect(linksAt(doc, 'bright')).toEqual([{ id: 'bloom', label: 'mask of Bloom, Frame', direction: 'to' }]);
  expect(linksAt(doc, key).map((l) => [l.id, l.direction])).toEqual([['main', 'from']]);
  expect(linksAt(doc, 'main').map((l) => [l.id, l.direction])).toEqual([[key, 'to']]);
  expect(linksAt(doc, 'blur')).toEqual([]);
});
