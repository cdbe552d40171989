import { expect, test } from 'vitest';
import { addStep, addStrand, newFinish } from '../finish/edits';
import { type Finish, mainStrand } from '../finish/finish';
import { matchedMedia, mediaNames, withMedia } from '../finish/media-names';
import { usesOf } from '../finish/uses';
import { setValues } from '../finish/value-edits';
import { appliedRecipe, outdatedUses, ownValues, takenBack, updatedUses } from './apply';
import { addFront, setFrontDefault } from './front-edits';
import { makeRecipe } from './make';
import { recipeOf } from './recipe';

const pass = (name: string, media = 'hall') => ({ type: 'pass' as const, media, pass: name });
const shot = (...types: string[]): Finish =>
  types.reduce(
    (doc, type, i) => addStep('main', i, type, `${type}-${i}`).apply(doc),
    newFinish('a', 'A', pass('')),
  );
const about = { id: 'soft', name: 'Soft', description: '', tags: [], licence: '', width: 1000 };

function versions() {
  const doc = shot('blur');
  const made = makeRecipe(doc, 'main', ['blur-0'], 'Soft');
  let first = made.edit.apply(doc);
  first = addFront(first, made.id, 'blur-0', 'radius', 'Radius').apply(first);
  const other = setValues(first, made.id, { radius: 9 }).apply(first);
  const second = setFrontDefault(other, made.id, 'radius').apply(other);
  return [
    recipeOf(first, made.id, { ...about, edition: 1 }),
    recipeOf(second, made.id, { ...about, edition: 2 }),
  ] as const;
}

test('a recipe comes at the end, or before what lens and film do; a recipe of those counts as what it ends with', () => {
  const [soft] = versions();
  const doc = shot('glow', 'fringe', 'grain');
  const order = (place: 'end' | 'camera') => {
    const { edit, id } = appliedRecipe(doc, soft, place, 1000);
    return mainStrand(edit.apply(doc))
      .steps.map((s) => (s.id === id ? 'use' : s.type))
      .join(' ');
  };
  expect(order('end')).toBe('glow fringe grain recipe-input blur use');
  expect(order('camera')).toBe('glow recipe-input blur use fringe grain');
});

test('lengths on the front begin in proportion to the width of the picture', () => {
  const [soft] = versions();
  const doc = shot('glow');
  const at = (width: number) => {
    const { edit, id } = appliedRecipe(doc, soft, 'end', width);
    return usesOf(edit.apply(doc)).find((u) => u.id === id)!.values.radius as number;
  };
  expect(at(2000) / at(1000)).toBeCloseTo(2, 2);
  expect(at(500) / at(1000)).toBeCloseTo(0.5, 2);
});

test('all linked uses take the next version in one edit; own values are told and taken back', () => {
  const [first, second] = versions();
  let doc = shot('glow');
  for (const _ of [1, 2]) doc = appliedRecipe(doc, first, 'end', 1000).edit.apply(doc);
  const [one, two] = usesOf(doc).map((u) => u.id);
  doc = setValues(doc, two, { radius: 3 }).apply(doc);
  expect(ownValues(doc)).toEqual([{ use: two, name: 'Soft', controls: ['radius'] }]);
  expect(outdatedUses(doc, second)).toEqual([one, two]);
  const updated = updatedUses(doc, second)!.apply(doc);
  expect(usesOf(updated).map((u) => [u.recipe!.version, u.values.radius])).toEqual([
    [2, 9],
    [2, 3],
  ]);
  expect(updatedUses(updated, second)).toBeUndefined();
  const back = takenBack(updated, two)!.apply(updated);
  expect(usesOf(back).map((u) => u.values.radius)).toEqual([9, 9]);
  expect(takenBack(back, two)).toBeUndefined();
});

test('a finish takes other media by their names, by itself where only one is left', () => {
  let doc = addStrand(shot('glow'), pass('depth'), 'data', 'Depth').apply(shot('glow'));
  doc = addStrand(
    doc,
    { type: 'stack', layers: [{ media: 'sky', pass: '', show: true, opacity: 1 }] },
    'picture',
    'Sky',
  ).apply(doc);
  expect(mediaNames(doc)).toEqual(['hall', 'sky']);
  expect(mediaNames(withMedia(doc, { hall: 'night' }))).toEqual(['night', 'sky']);
  expect(matchedMedia(doc, ['night', 'sky'])).toEqual({ hall: 'night' });
  expect(matchedMedia(doc, ['night', 'day'])).toEqual({});
  expect(matchedMedia(doc, ['hall', 'sky', 'more'])).toEqual({});
});
