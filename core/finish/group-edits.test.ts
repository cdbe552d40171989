import { expect, test } from 'vitest';
import { addStrand, newFinish, removeStrand } from './edits';
import type { Finish } from './finish';
import { beginGroup, changeGroup, groupStrand } from './group-edits';
import { parseFinish } from './validation';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
function three(): Finish {
  let doc = newFinish('f', 'F', head);
  for (const name of ['Lamps', 'Sky']) doc = addStrand(doc, head, 'picture', name).apply(doc);
  return doc;
}

test('strands are grouped under a name and a colour, and the group goes with its last strand', () => {
  let doc = three();
  const [, lamps, sky] = doc.strands.map((s) => s.id);
  doc = beginGroup(doc, lamps).apply(doc);
  const [group] = doc.groups!;
  expect(group.name).toBe('Lamps');
  doc = groupStrand(doc, sky, group.id).apply(doc);
  doc = changeGroup(doc, group.id, { name: 'Light', colour: 'rose' }).apply(doc);
  expect(parseFinish(JSON.parse(JSON.stringify(doc)))).toEqual(doc);
  expect(doc.groups).toEqual([{ id: group.id, name: 'Light', colour: 'rose' }]);
  expect(doc.strands.filter((s) => s.group === group.id).map((s) => s.name)).toEqual(['Lamps', 'Sky']);
  for (const id of [lamps, sky]) doc = groupStrand(doc, id, undefined).apply(doc);
  expect(doc.groups).toBeUndefined();
  expect(doc.strands.every((s) => s.group === undefined)).toBe(true);
});

test('a second group takes another colour; a strand that moves there empties the first', () => {
  let doc = three();
  const [, lamps, sky] = doc.strands.map((s) => s.id);
  doc = beginGroup(doc, lamps).apply(doc);
  doc = beginGroup(doc, sky).apply(doc);
  const [first, second] = doc.groups!;
  expect(second.colour).not.toBe(first.colour);
  doc = groupStrand(doc, lamps, second.id).apply(doc);
  expect(doc.groups).toEqual([second]);
});

test('a group goes too where its last strand is removed', () => {
  let doc = three();
  const [, lamps] = doc.strands.map((s) => s.id);
  doc = beginGroup(doc, lamps).apply(doc);
  expect(removeStrand(doc, lamps).apply(doc).groups).toBeUndefined();
});
