import { describe, expect, test } from 'vitest';
import { addStep, addStrand, dismiss, linkPass, linkSlot, newFinish } from '../finish/edits';
import type { Finish } from '../finish/finish';
import { setValue } from '../finish/value-edits';
import type { Pass } from '../formats/passes';
import type { Facts } from './advice';
import { adviceOn } from './registry';

const pass = (name: string, kind: Pass['kind']): Pass => ({
  name,
  label: name || 'beauty',
  kind,
  part: 0,
  channels: [],
  types: [],
});
const facts: Facts = {
  passes: { hall: [pass('', 'picture'), pass('depth', 'depth')] },
  frames: { hall: [1, 2, 3] },
  frame: 1,
  broken: {},
  negative: {},
  emptyMattes: [],
  byAlpha: [],
  beyondAlpha: 0,
};
const head = { type: 'pass', media: 'hall', pass: '' } as const;
const bare = newFinish('hall', 'Hall', head);
const lit = addStep('main', 0, 'bloom', 'bloom').apply(bare);
const keys = (doc: Finish, more: Partial<Facts> = {}) =>
  adviceOn(doc, { ...facts, ...more }).map((f) => f.key);

/** The fix of the first finding, applied. */
function fixed(doc: Finish, more: Partial<Facts> = {}): Finish {
  const [finding] = adviceOn(doc, { ...facts, ...more });
  return finding.fix!.apply(doc);
}

test('nothing is said of a finish that is in order', () => {
  expect(keys(bare)).toEqual([]);
  expect(keys(lit)).toEqual([]);
});

describe('each rule names the place, says what to do, and its fix takes it away', () => {
  const emission = { passes: { hall: [...facts.passes.hall, pass('lamps', 'emission')] } };
  const backed = addStep('main', 0, 'backing', 'backing').apply(lit);
  const doubled = addStep('main', 1, 'bloom', 'second').apply(lit);
  const loose = addStrand(bare, head, 'picture', 'Loose').apply(bare);
  const kept = linkPass(lit, 'bloom', 'mask', { ...head, pass: 'depth' }, 'depth', 'luminance').apply(lit);
  const uncovered = setValue(lit, 'bloom', 'alphaGrows', false).apply(lit);
  test.each([
    [
      'order',
      backed,
      {},
      'odd-order/bloom/backing',
      /Bloom stands after Backing/,
      /Usually it comes before: light spreads/,
    ],
    [
      'the whole picture',
      lit,
      emission,
      'takes-all/bloom',
      /takes light from the whole picture/,
      /pass lamps/,
    ],
    [
      'the same light twice',
      doubled,
      {},
      'twice-the-light/second',
      /uses the same light as Bloom/,
      /pile up/,
    ],
    [
      'a strand that leads nowhere',
      loose,
      {},
      'leads-nowhere/strand',
      /Loose leads nowhere/,
      /Link it to a slot/,
    ],
    [
      'an empty matte',
      kept,
      { emptyMattes: ['bloom/mask'] },
      'empty-matte/bloom/mask/1',
      /Mask of Bloom is empty on frame 1/,
      /free the slot/,
    ],
    [
      'light beyond alpha',
      uncovered,
      { beyondAlpha: 0.2 },
      'beyond-alpha/bloom',
      /alpha does not cover/,
      /20\.0 % of pixels/,
    ],
  ] as const)('%s', (_, doc, more, key, title, remedy) => {
    const [finding] = adviceOn(doc, { ...facts, ...more });
    expect(finding.key).toBe(key);
    expect(finding.title).toMatch(title);
    expect(finding.remedy).toMatch(remedy);
    const rest = { ...more, emptyMattes: [], beyondAlpha: 0 };
    expect(keys(fixed(doc, more), rest)).not.toContain(key);
  });

  test('what is missing or broken is named', () => {
    expect(adviceOn(bare, { ...facts, frame: 9 })[0].title).toBe('Frame 9 of hall is not there');
    expect(adviceOn(bare, { ...facts, passes: {} })[0].title).toMatch(
      /begins at hall, which this shot does not have/,
    );
    const other = newFinish('hall', 'Hall', { ...head, pass: 'rays' });
    expect(adviceOn(other, facts)[0]).toMatchObject({
      title: 'hall has no pass rays',
      remedy: 'Choose one that it has: beauty, depth.',
    });
    expect(adviceOn(lit, { ...facts, broken: { bloom: 0.01, main: 0.01 } })[0]).toMatchObject({
      at: 'main',
      title: '1.0 % of pixels are not finite in the frame at the head of Frame',
    });
    const depth = { type: 'pass', media: 'hall', pass: 'depth' } as const;
    const deep = addStrand(lit, depth, 'data', 'depth').apply(lit);
    expect(adviceOn(deep, { ...facts, broken: { strand: 0.02 } }).map((a) => a.title)).toContain(
      '2.0 % of the numbers of depth are not a number',
    );
  });

  test('a slot that a step needs and that is empty is named, with the pass that the shot has', () => {
    const soft = addStep('main', 0, 'depth-softness', 'soft').apply(bare);
    const [finding] = adviceOn(soft, facts);
    expect(finding).toMatchObject({
      key: 'lacks/soft/density',
      title: 'Depth softness changes nothing: its Density is empty',
      remedy: 'The shot has the pass depth.',
    });
    expect(finding.fix?.label).toBe('link Density of Depth softness to depth');
    expect(keys(fixed(soft))).toEqual([]);
    // Without such a pass it says what to link; where it does not matter nothing.
    const without = { passes: { hall: [pass('', 'picture')] } };
    expect(adviceOn(soft, { ...facts, ...without })[0]).not.toHaveProperty('fix');
    expect(keys(addStep('main', 0, 'defocus', 'defocus').apply(bare))).toEqual([]);
  });

  test('a matte for which nothing was chosen is told once, with the way on, however many steps take it', () => {
    let doc = addStrand(doubled, { type: 'shapes', shapes: [] }, 'matte', 'Shapes').apply(doubled);
    const shapes = doc.strands.at(-1)!.id;
    const points = ['bloom/mask', 'bloom/lightMask', 'second/mask'];
    for (const point of points) {
      const [step, slot] = point.split('/');
      doc = linkSlot(doc, step, slot, { strand: shapes, after: 'end' }).apply(doc);
    }
    const about = adviceOn(doc, { ...facts, emptyMattes: points }).filter((f) => /^empty/.test(f.key));
    expect(about).toHaveLength(1);
    expect(about[0]).toMatchObject({
      title: 'Shapes has no shape yet',
      choose: { strand: shapes, label: 'Draw a shape' },
    });
    expect(about[0].remedy).toMatch(/change nothing until you draw one on the picture/);
  });

  test('a loose picture is joined before lens and finish, or removed; a loose matte is removed', () => {
    const lens = addStep('main', 1, 'grain', 'grain').apply(lit);
    const doc = addStrand(lens, head, 'picture', 'Loose').apply(lens);
    const [finding] = adviceOn(doc, facts);
    expect([finding.fix?.label, finding.otherFix?.label]).toEqual(['join Loose', 'remove strand Loose']);
    const joined = finding.fix!.apply(doc);
    expect(joined.strands[0].steps.map((s) => s.type)).toEqual(['bloom', 'join', 'grain']);
    expect(keys(joined)).toEqual([]);
    const matte = addStrand(lit, { type: 'shapes', shapes: [] }, 'matte', 'Drawn').apply(lit);
    expect(adviceOn(matte, facts)[0]).toMatchObject({ fix: { label: 'remove strand Drawn' } });
    expect(adviceOn(matte, facts)[0]).not.toHaveProperty('otherFix');
  });

  test('negative pixels of a frame are repaired where the frame begins', () => {
    const negative = { negative: { main: 0.0002 } };
    expect(adviceOn(lit, { ...facts, ...negative })[0].title).toBe('0.020 % of pixels of Frame are negative');
    const doc = fixed(lit, negative);
    expect(doc.strands[0].steps.map((s) => s.type)).toEqual(['repair', 'bloom']);
    expect(keys(doc, negative)).toEqual([]);
    const broken = { broken: { main: 0.01 } };
    expect(fixed(lit, broken).strands[0].steps[0].type).toBe('repair');
  });

  test('a second step with a source of its own is no second halo', () => {
    const own = linkSlot(
      addStrand(doubled, { type: 'colour', colour: [1, 1, 1], alpha: 1 }, 'picture', 'Sky').apply(doubled),
      'second',
      'light',
      { strand: 'strand', after: 'end' },
    ).apply(
      addStrand(doubled, { type: 'colour', colour: [1, 1, 1], alpha: 1 }, 'picture', 'Sky').apply(doubled),
    );
    expect(keys(own)).toEqual([]);
  });

  test('two steps of one sort whose light comes from other mattes take other light', () => {
    const masks = ['one', 'two'].reduce(
      (doc, name) => addStrand(doc, { type: 'shapes', shapes: [] }, 'matte', name).apply(doc),
      doubled,
    );
    const [one, two] = masks.strands.slice(1);
    const within = (doc: Finish, step: string, strand: string) =>
      linkSlot(doc, step, 'lightMask', { strand, after: 'end' }).apply(doc);
    const apart = within(within(masks, 'bloom', one.id), 'second', two.id);
    expect(keys(apart)).not.toContain('twice-the-light/second');
    const together = within(within(masks, 'bloom', one.id), 'second', one.id);
    expect(keys(together)).toContain('twice-the-light/second');
  });

  test('a slot that reads the luminance of something black is advised to read alpha', () => {
    const more = { emptyMattes: ['bloom/mask'], byAlpha: ['bloom/mask'] };
    const [finding] = adviceOn(kept, { ...facts, ...more });
    expect(finding).toMatchObject({
      key: 'empty-matte/bloom/mask/alpha',
      title: 'Mask of Bloom reads the luminance of something black',
    });
    const repaired = finding.fix!.apply(kept);
    expect(repaired.strands[0].steps[0].slots.mask.as).toBe('alpha');
  });

  test('what was dismissed for a finish is not said again', () => {
    expect(keys(dismiss('leads-nowhere/strand').apply(loose))).toEqual([]);
  });
});
