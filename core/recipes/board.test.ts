import { expect, test } from 'vitest';
import { applyEdit } from '../finish/edit';
import { addStep, addStrand, linkSlot, newFinish, removeStep, setBypass, splitAt } from '../finish/edits';
import type { Finish } from '../finish/finish';
import { rowsOf } from '../finish/rows';
import { slotsOf } from '../finish/uses';
import { setValues } from '../finish/value-edits';
import { boardOf } from './board';
import { guardRecipes } from './guard';
import { makeRecipe } from './make';

const pass = (name: string) => ({ type: 'pass' as const, media: 'hall', pass: name });

/** Mist with a key of depth in a strand of its own, and a glow, both inside; a grade before it and one after. */
function made(): { doc: Finish; id: string } {
  let doc = newFinish('a', 'A', pass(''));
  doc = addStrand(doc, pass('depth'), 'data', 'Depth').apply(doc);
  doc = addStep('strand', 0, 'depth-range', 'range').apply(doc);
  for (const [i, type] of ['grade', 'blur', 'glow', 'gain'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  doc = linkSlot(doc, 'glow', 'mask', { strand: 'strand', after: 'end' }).apply(doc);
  const { edit, id } = makeRecipe(doc, 'main', ['blur', 'glow'], 'Soft');
  return { doc: edit.apply(doc), id };
}
const shape = (doc: Finish) => doc.strands.map((s) => [s.id, s.steps.map((t) => t.id).join(' ')]);

test('a folded recipe is one step with its slots as links; unfolded all of it is there', () => {
  const { doc, id } = made();
  const [slot] = slotsOf(doc, id);
  const folded = boardOf(doc, []);
  expect(shape(folded)).toEqual([
    ['main', `grade ${id} gain`],
    [slot.head.from!.strand, ''],
  ]);
  expect(folded.strands[0].steps[1].slots).toEqual({ [slot.strand.id]: slot.head.from });
  expect(() => rowsOf(folded)).not.toThrow();
  const open = boardOf(doc, [id]);
  expect(shape(open)).toEqual([
    ['main', `grade ${id}.input blur glow ${id} gain`],
    ['strand', 'range'],
    [slot.head.from!.strand, ''],
  ]);
  expect(boardOf(doc, [])).toBe(folded);
  expect(boardOf(newFinish('b', 'B', pass('')), [])).not.toBe(undefined);
});

test('who takes from the middle of a folded recipe takes from the recipe, or from above where it goes back into it', () => {
  const { doc, id } = made();
  const split = splitAt(doc, 'main', 'blur').apply(doc);
  const strand = split.strands.at(-1)!.id;
  expect(boardOf(split, []).strands.at(-1)!.head).toMatchObject({ after: id });
  const [slot] = slotsOf(split, id);
  const looped = linkSlot(split, id, slot.strand.id, { strand, after: 'end' }).apply(split);
  const board = boardOf(looped, []);
  expect(board.strands.find((s) => s.id === strand)!.head).toMatchObject({ after: 'grade' });
  expect(() => rowsOf(board)).not.toThrow();
});

test('what is inside stays as it is until it is edited; front, links, and the recipe as a whole go on', () => {
  const { doc, id } = made();
  const refuses = (change: Parameters<typeof applyEdit>[1], editing?: string) => () =>
    guardRecipes(doc, applyEdit(doc, change).finish, editing);
  expect(refuses(setValues(doc, 'glow', { size: 9 }))).toThrow('Glow is inside Soft');
  expect(refuses(setBypass(doc, 'blur', true))).toThrow('Blur is inside Soft');
  expect(refuses(removeStep(doc, 'blur'))).toThrow('inside Soft');
  expect(refuses(addStep('main', 2, 'gain', 'new'))).toThrow('inside Soft');
  expect(refuses(setValues(doc, 'range', { low: 3 }))).toThrow('inside Soft');
  for (const editing of [id])
    for (const change of [
      setValues(doc, 'glow', { size: 9 }),
      removeStep(doc, 'blur'),
      setValues(doc, 'range', { low: 3 }),
    ])
      expect(refuses(change, editing)).not.toThrow();
  const [slot] = slotsOf(doc, id);
  for (const change of [
    setValues(doc, id, { amount: 0.3 }),
    setValues(doc, 'grade', { saturation: 0 }),
    linkSlot(doc, id, slot.strand.id, undefined),
    linkSlot(doc, id, 'mask', { strand: slot.head.from!.strand, after: 'end' }),
    removeStep(doc, id),
    removeStep(doc, 'grade'),
  ])
    expect(refuses(change)).not.toThrow();
});
