import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan/plan';
import { layerAddress, layerOn } from './animated';
import { duplicateStrand } from './copies';
import type { Edit } from './edit';
import { addStep, newFinish, removeStrand } from './edits';
import type { Finish, StackHead } from './finish';
import {
  addLayer,
  duplicateLayer,
  followLayer,
  moveLayer,
  pullLayerOut,
  putLayerBack,
  removeLayer,
  setLayer,
} from './layer-edits';
import { shownLayers } from './layers';
import { parseFinish } from './validation';
import { setValues } from './value-edits';

const layer = (media: string) => ({ media, pass: '', show: true, opacity: 1 });
const stacked = (...media: string[]) =>
  newFinish('f', 'F', { type: 'stack', layers: media.map(layer) } as StackHead);
const head = (doc: Finish, at = 0) => doc.strands[at].head as StackHead;
/** Edits one after the other, each given the document before it; the document as its file gives it back. */
const edited = (doc: Finish, ...edits: ((doc: Finish) => Edit)[]): Finish =>
  parseFinish(JSON.parse(JSON.stringify(edits.reduce((d, e) => e(d).apply(d), doc))));
const names = (doc: Finish) => head(doc).layers.map((l) => l.media);
const stackNode = (finish: Finish, scale = 1) => {
  const { nodes } = planOf(
    { finish, point: { strand: 'main', after: 'end' }, frame: 3, scale },
    (m, f) => `${m}@${f}`,
  );
  return nodes.find((n) => n.type === 'stack');
};

describe('layers of a stack', () => {
  test('keep their order, and change it', () => {
    const doc = stacked('sky', 'body', 'wings');
    expect(names(edited(doc, (d) => moveLayer(d, 'main', 0, 1)))).toEqual(['body', 'sky', 'wings']);
    expect(names(edited(doc, (d) => moveLayer(d, 'main', 2, 5)))).toEqual(names(doc));
    expect(names(edited(doc, () => addLayer('main', 'bell', '')))).toEqual(['sky', 'body', 'wings', 'bell']);
    expect(names(edited(doc, (d) => removeLayer(d, 'main', 1)))).toEqual(['sky', 'wings']);
    expect(moveLayer(doc, 'main', 0, 1).label).toBe('move sky up');
  });

  test('hidden ones are not there; shown alone, the others are not', () => {
    const doc = edited(stacked('sky', 'body', 'wings'), (d) => setLayer(d, 'main', 1, { show: false }));
    const shown = (d: Finish) => shownLayers(head(d)).map((l) => [l.media, l.opacity]);
    expect(shown(doc)).toEqual([
      ['sky', 1],
      ['wings', 1],
    ]);
    // Also one that is hidden among the others.
    expect(shown(edited(doc, (d) => setLayer(d, 'main', 1, { solo: true })))).toEqual([['body', 1]]);
    // Nothing at all has the size of the first.
    const none = [0, 2].map((i) => (d: Finish) => setLayer(d, 'main', i, { show: false }));
    expect(shown(edited(doc, ...none))).toEqual([['sky', 0]]);
  });

  test('mode and place reach what is computed, in pixels of the draft', () => {
    const doc = edited(
      stacked('sky', 'wings'),
      (d) => setLayer(d, 'main', 1, { mode: 'screen' }),
      (d) => setValues(d, layerAddress('main', head(d).layers[1], 1), { moveX: 40, rotate: 10, pivotY: -8 }),
    );
    const node = stackNode(doc, 0.5);
    expect(node?.type === 'stack' && node.layers[1]).toMatchObject({
      mode: 'screen',
      transform: { moveX: 20, rotate: 10, pivotY: -4, scale: 1 },
    });
    expect(head(edited(doc, (d) => setLayer(d, 'main', 1, { mode: 'over' }))).layers[1].mode).toBeUndefined();
  });

  test('one follows another; it stays where it was when that one goes', () => {
    const doc = edited(
      stacked('body', 'wings', 'eyes'),
      (d) => setValues(d, layerAddress('main', head(d).layers[0], 0), { moveX: 12 }),
      (d) => followLayer(d, 'main', 1, { strand: 'main', index: 0 }),
      // Who follows a follower follows the first.
      (d) => followLayer(d, 'main', 2, { strand: 'main', index: 1 }),
      (d) => setValues(d, head(d).layers[2].follows!, { moveY: 5 }),
    );
    const places = head(doc).layers.map((l) => layerOn(doc, l, 1).transform);
    for (const p of places) expect(p).toMatchObject({ moveX: 12, moveY: 5 });
    const gone = edited(doc, (d) => removeLayer(d, 'main', 0));
    expect(head(gone).layers.map((l) => [l.follows, l.transform?.moveX])).toEqual([
      [undefined, 12],
      [undefined, 12],
    ]);
    const free = edited(doc, (d) => followLayer(d, 'main', 1, undefined));
    expect(head(free).layers[1].transform?.moveX).toBe(12);
  });

  test('copies have places of their own, or follow', () => {
    const doc = edited(stacked('body'), (d) =>
      setValues(d, layerAddress('main', head(d).layers[0], 0), { scale: 0.5 }),
    );
    const own = edited(
      doc,
      (d) => duplicateLayer(d, 'main', 0, false),
      (d) => setValues(d, layerAddress('main', head(d).layers[1], 1), { scale: 2 }),
    );
    expect(head(own).layers.map((l) => layerOn(own, l, 1).transform?.scale)).toEqual([0.5, 2]);
    const linked = edited(
      doc,
      (d) => duplicateLayer(d, 'main', 0, true),
      (d) => setValues(d, head(d).layers[1].follows!, { scale: 2 }),
    );
    expect(head(linked).layers.map((l) => layerOn(linked, l, 1).transform?.scale)).toEqual([2, 2]);
    const strands = edited(
      doc,
      (d) => duplicateStrand(d, 'main', true),
      (d) => setValues(d, layerAddress('main', head(d).layers[0], 0), { rotate: 9 }),
    );
    expect(layerOn(strands, head(strands, 1).layers[0], 1).transform?.rotate).toBe(9);
    const kept = edited(
      strands,
      (d) => setValues(d, layerAddress('main', head(d).layers[0], 0), { rotate: 3 }),
      (d) => removeStrand(d, 'strand'),
    );
    expect(kept.strands).toHaveLength(1);
  });

  test('pulled out it is a strand in the same place; put back it is the drawing alone', () => {
    const doc = stacked('sky', 'body', 'wings');
    const pulled = edited(
      doc,
      (d) => pullLayerOut(d, 'main', 1).edit,
      () => addStep('strand', 0, 'opacity', 'faint'),
    );
    expect(pulled.strands[1]).toMatchObject({
      id: 'strand',
      name: 'body',
      head: { type: 'pass', media: 'body' },
    });
    pulled.strands[1].steps[0].values.amount = 0.5;
    const node = stackNode(pulled);
    expect(node?.type === 'stack' && node.layers).toHaveLength(3);
    expect(() => removeStrand(pulled, 'strand')).toThrow('is taken by Frame');
    // Its steps are not lost.
    const back = edited(pulled, (d) => putLayerBack(d, 'main', 1));
    expect(back.strands.map((s) => s.id)).toEqual(['main', 'strand']);
    expect(head(back).layers[1].from).toBeUndefined();
    const untouched = edited(
      doc,
      (d) => pullLayerOut(d, 'main', 1).edit,
      (d) => putLayerBack(d, 'main', 1),
    );
    expect(untouched).toEqual(doc);
  });

  test('what cannot be is refused: a stack that feeds itself, a layer that follows nobody', () => {
    const doc = stacked('sky', 'body');
    head(doc).layers[1].from = { strand: 'main', after: 'end' };
    expect(() => parseFinish(doc)).toThrow('would feed itself');
    const lost = stacked('sky', 'body');
    head(lost).layers[1].follows = 'nobody';
    expect(() => parseFinish(lost)).toThrow('The layer body follows “nobody”');
  });
});
