import { expect, test } from 'vitest';
import { findAnimated, valueOn } from '../finish/animated';
import { addStep, addStrand, newFinish } from '../finish/edits';
import { type Finish, mainStrand } from '../finish/finish';
import { matchedMedia, mediaNames, withMedia } from '../finish/media-names';
import { usesOf } from '../finish/uses';
import { setValues } from '../finish/value-edits';
import { appliedRecipe, outdatedUses, ownValues, takenBack, updatedUses } from './apply';
import { differences, overridden } from './differences';
import { addDrive, addFront, setFrontDefault } from './front-edits';
import { makeRecipe } from './make';
import { recipeOf } from './recipe';
import { scaledRecipe } from './scale';

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

test('a length on the front takes along the lengths that it drives, and no amount; nothing of it is the shot’s own', () => {
  const doc = shot('glow');
  const made = makeRecipe(doc, 'main', ['glow-0'], 'Halo');
  let on = made.edit.apply(doc);
  on = addFront(on, made.id, 'glow-0', 'size', 'Size').apply(on);
  on = setValues(on, 'glow-0', { gain: 1.2 }).apply(on);
  on = addDrive(on, made.id, 'size', 'glow-0', 'gain').apply(on);
  const recipe = recipeOf(on, made.id, { ...about, width: 960, edition: 1 });
  const { edit, id } = appliedRecipe(shot('blur'), recipe, 'end', 1280);
  const used = edit.apply(shot('blur'));
  const valueAt = (given: Finish, key: string) => {
    const found = findAnimated(given, `${id}.glow-0`)!;
    return valueOn(given, found, key, 1) as number;
  };
  const size = on.strands[0].steps.find((s) => s.id === 'glow-0')!.values.size as number;
  expect(valueAt(used, 'size')).toBeCloseTo((size * 1280) / 960, 2);
  expect(valueAt(used, 'gain')).toBeCloseTo(1.2, 6);
  const use = usesOf(used)[0];
  expect(overridden(use)).toEqual([]);
  expect(differences(used, id, scaledRecipe(recipe, 1280))).toEqual([]);
  // Turned half-way up it does the same in both widths.
  const up = (given: Finish, useId: string) =>
    setValues(given, useId, {
      size: (usesOf(given)[0].values.size as number) * 1.5,
    }).apply(given);
  const before = valueOn(up(on, made.id), findAnimated(up(on, made.id), 'glow-0')!, 'gain', 1) as number;
  expect(valueAt(up(used, id), 'gain')).toBeCloseTo(before, 3);
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
