import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan/plan';
import { type Guide, placeOn, smoothed } from '../time/guides';
import { valuesOn } from './animated';
import { addStep, newFinish } from './edits';
import { type Finish, findStep } from './finish';
import {
  addGuide,
  follow,
  measuredGuide,
  moveGuide,
  removeGuide,
  renameGuide,
  smoothGuide,
} from './guide-edits';
import { parseFinish } from './validation';
import { setValues } from './value-edits';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const base = () => addStep('main', 0, 'light-rays', 'rays').apply(newFinish('f', 'F', head));
const pair = { x: 'centreX', y: 'centreY' };
const edited = (doc: Finish, ...edits: ((d: Finish) => { apply(d: Finish): Finish })[]) =>
  edits.reduce((d, make) => make(d).apply(d), doc);
const centre = (doc: Finish, frame: number) => {
  const { centreX, centreY } = valuesOn(doc, findStep(doc, 'rays')!.step, frame);
  return [centreX, centreY];
};
const guided = () =>
  edited(
    base(),
    (d) => addGuide(d, 'Globe', { x: 10, y: 20 }, 1),
    (d) => moveGuide(d, 'guide', 11, { x: 110, y: 20 }),
    (d) => follow(d, 'rays', pair, 'guide'),
  );

describe('what follows a guide', () => {
  test('is where the guide is on each frame, and each frame is computed for itself', () => {
    const doc = guided();
    expect(centre(doc, 1)).toEqual([10, 20]);
    expect(centre(doc, 11)).toEqual([110, 20]);
    expect(centre(doc, 6)[0]).toBeCloseTo(60);
    expect(parseFinish(JSON.parse(JSON.stringify(doc)))).toEqual(doc);
    const key = (frame: number) =>
      planOf({ finish: doc, point: { strand: 'main', after: 'end' }, frame, scale: 1 }, (m) => m).key;
    expect(key(6)).not.toBe(key(7));
    expect(key(12)).toBe(key(20));
  });

  test('keeps its distance where it is moved by hand', () => {
    const doc = edited(guided(), (d) => setValues(d, 'rays', { centreX: 70, centreY: 15 }, 6));
    expect(centre(doc, 6)[0]).toBeCloseTo(70);
    expect(centre(doc, 11)).toEqual([120, 15]);
  });

  test('stands by its own value once it follows nothing, or the guide is gone', () => {
    const own = centre(base(), 6);
    const doc = guided();
    expect(
      centre(
        edited(doc, (d) => follow(d, 'rays', pair, undefined)),
        6,
      ),
    ).toEqual(own);
    const without = edited(doc, (d) => removeGuide(d, 'guide'));
    expect(centre(without, 6)).toEqual(own);
    expect(without.guides).toBeUndefined();
    expect(parseFinish(JSON.parse(JSON.stringify(without)))).toEqual(without);
    // A document of elsewhere may name a guide that it does not have.
    const { guides: _, ...lost } = doc;
    expect(centre(lost as Finish, 6)).toEqual(own);
  });
});

test('a guide is measured, smoothed, renamed; one that is gone is said', () => {
  const places = Array.from({ length: 9 }, (_, i) => ({ frame: 3 + i, x: i * i + (i % 2) * 4, y: -i }));
  const doc = edited(
    guided(),
    (d) => measuredGuide(d, 'guide', { type: 'middle', strand: 'main', after: 'end' }, places),
    (d) => renameGuide(d, 'guide', 'Lamp'),
  );
  const [guide] = doc.guides as Guide[];
  expect(guide).toMatchObject({ name: 'Lamp', source: { type: 'middle', strand: 'main', after: 'end' } });
  expect(placeOn(guide, 5)).toEqual({ x: 4, y: -2 });
  expect(placeOn(guide, 99)).toEqual({ x: 64, y: -8 });
  const calm = edited(doc, (d) => smoothGuide(d, 'guide')).guides![0] as Guide;
  const bends = (g: Guide) =>
    g.x.slice(2).reduce((sum, k, i) => sum + Math.abs(k.value - 2 * g.x[i + 1].value + g.x[i].value), 0);
  expect(bends(calm)).toBeLessThan(bends(guide) / 2);
  expect(() => measuredGuide(doc, 'guide', { type: 'middle', strand: 'main', after: 'end' }, [])).toThrow(
    'nothing to measure',
  );
  expect(() => renameGuide(doc, 'gone', 'X')).toThrow('This guide is not there any more');
});

test('smoothing is that of Savitzky and Golay: the values of SciPy 1.10, savgol_filter(…, 5, 2)', () => {
  const reference = [
    1.0285714286, 3.0857142857, 4.5714285714, 5.3428571429, 7.3142857143, 4.4714285714, 3.3857142857,
    2.7285714286,
  ];
  smoothed([1, 4, 2, 8, 5, 7, 1, 3.5]).forEach((v, i) => {
    expect(v).toBeCloseTo(reference[i], 9);
  });
  expect(smoothed([1, 5, 2])).toEqual([1, 5, 2]);
});
