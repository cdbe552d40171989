import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan/plan';
import type { Pass } from '../formats/passes';
import { densityAt } from '../steps/air/density';
import { mistStart } from '../steps/shared/start';
import { mixedAddress } from './animated';
import { addStep, newFinish } from './edits';
import { type Finish, findStep, type MixHead } from './finish';
import { firstLink, withFirstLink } from './first-link';
import { setMixed, showMix } from './mix-edits';
import { allBeginnings, startJoined, startStrand } from './new-strand';
import { startedFrom, startValues } from './start-values';
import { parseFinish } from './validation';
import { setValues } from './value-edits';

const pass = (name: string, kind: Pass['kind'] = 'picture'): Pass => ({
  name,
  label: name || 'beauty',
  kind,
  part: 0,
  channels: ['R', 'G', 'B'],
  types: ['half', 'half', 'half'],
});
const media = [
  {
    name: 'hall',
    passes: [
      pass(''),
      pass('sun'),
      pass('reflection'),
      pass('emission', 'emission'),
      pass('depth', 'depth'),
      pass('normal', 'normal'),
      pass('position', 'position'),
    ],
  },
];
const from = { strand: 'main', after: 'end', name: 'Frame' };
const plain = () => newFinish('f', 'F', { type: 'pass', media: 'hall', pass: '' });
const read = (doc: Finish) => parseFinish(JSON.parse(JSON.stringify(doc)));
const beginning = (name: string) => allBeginnings(media, from).find((b) => b.name === name)!;
const nodes = (finish: Finish, strand = 'main') =>
  planOf({ finish, point: { strand, after: 'end' }, frame: 1, scale: 1 }, (m, f) => `${m}@${f}`).nodes;

describe('a mix of passes at a head', () => {
  const mixed = () => startStrand(plain(), beginning('Pass mix')).edit.apply(plain());
  const head = (doc: Finish) => doc.strands[1].head as MixHead;

  test('begins with the light passes, measured against the beauty', () => {
    const doc = read(mixed());
    expect(head(doc).passes.map((p) => p.pass)).toEqual(['sun', 'reflection', 'emission']);
    const node = nodes(doc, 'strand').find((n) => n.type === 'mix');
    expect(node?.type === 'mix' && [node.passes.length, node.beauty !== undefined, node.residual]).toEqual([
      3,
      true,
      false,
    ]);
  });

  test('gains, tints, what is left out or alone, and the matte inside which they hold reach what is computed', () => {
    let doc = mixed();
    const edit = (...of: Parameters<typeof setMixed> extends [unknown, ...infer R] ? R : never) => {
      doc = read(setMixed(doc, ...of).apply(doc));
    };
    const gains = () => {
      const node = nodes(doc, 'strand').find((n) => n.type === 'mix');
      return node?.type === 'mix' ? node.passes.map((p) => p.gains) : [];
    };
    doc = read(setValues(doc, mixedAddress('strand', 0), { gain: 2, tint: [1, 0.5, 0] }).apply(doc));
    edit('strand', 1, { off: true });
    expect(gains()).toEqual([
      [2, 1, 0],
      [1, 1, 1],
    ]);
    edit('strand', 1, { solo: true });
    expect(gains()).toEqual([[1, 1, 1]]);
    edit('strand', 1, { solo: undefined });
    // A mix of nothing is black, and as large as its first pass.
    edit('strand', 0, { off: true });
    edit('strand', 2, { off: true });
    expect(gains()).toEqual([[0, 0, 0]]);
    expect(() =>
      setMixed(doc, 'strand', 0, { within: { strand: 'strand', after: 'end' } }).apply(doc),
    ).toThrow('would feed itself');
    expect(head(read(showMix('strand', 'residual').apply(doc))).show).toBe('residual');
  });
});

test('Fresnel reflection is a ready chain: a reflection brought on where surfaces turn away, in one step back', () => {
  const doc = plain();
  const { edit, selects } = startJoined(doc, beginning('Fresnel reflection'), { strand: 'main', index: 0 });
  expect(edit.label).toBe('add Fresnel reflection');
  const made = read(edit.apply(doc));
  expect(made.strands[0].steps.map((s) => [s.id, s.type, s.values.mode])).toEqual([
    [selects, 'join', 'plus'],
  ]);
  const { picture, mask } = made.strands[0].steps[0].slots;
  const strand = (id: string) => made.strands.find((s) => s.id === id)!;
  expect(strand(picture.strand).steps.map((s) => s.type)).toEqual(['unpremultiply', 'premultiply']);
  expect(strand(mask.strand).head).toMatchObject({ pass: 'normal' });
  expect(strand(mask.strand).steps[0]).toMatchObject({
    type: 'facing',
    values: { measure: 'exact', black: 0.04 },
  });
  expect(strand(strand(mask.strand).steps[0].slots.positions.strand).head).toMatchObject({
    pass: 'position',
  });
});

test('depth mist begins with the depth pass, from the percentiles of its values, in one step back', () => {
  expect(
    ['depth-mist', 'bloom', 'light-rays', 'defocus', 'motion-smear'].map((t) => firstLink(t, media)?.name),
  ).toEqual(['depth', undefined, undefined, 'depth', undefined]);
  const lies = {
    scale: 'linear' as const,
    from: 1,
    to: 90,
    counts: [],
    low: 4.1234,
    middle: 9,
    high: 30.5,
    endless: 0.1,
    black: 0,
  };
  const added = addStep('main', 0, 'depth-mist', 'mist');
  const edit = startedFrom(withFirstLink(added, 'mist', firstLink('depth-mist', media)!), 'mist', {
    values: lies,
  });
  expect(edit.label).toBe('add Depth mist');
  const doc = read(edit.apply(plain()));
  expect(doc.strands[0].steps[0].values).toMatchObject({ near: 4.12, far: 30.5, visibility: 52.8 });
  expect(doc.strands[1].head).toMatchObject({ pass: 'depth' });
  // One depth everywhere still has a far end behind its near one.
  const { near, far } = mistStart({ low: 5, high: 5 });
  expect(far).toBeGreaterThanOrEqual(near);
});

test('depth softness begins with the density of the depth pass, as dense as the mist that there is, and shares it', () => {
  const link = (type: string) => firstLink(type, media)!;
  const misty = read(
    setValues(
      withFirstLink(addStep('main', 0, 'depth-mist', 'mist'), 'mist', link('depth-mist')).apply(plain()),
      'mist',
      { near: 7, visibility: 33 },
    ).apply(
      withFirstLink(addStep('main', 0, 'depth-mist', 'mist'), 'mist', link('depth-mist')).apply(plain()),
    ),
  );
  const add = (doc: Finish, id: string) =>
    read(withFirstLink(addStep('main', 1, 'depth-softness', id), id, link('depth-softness')).apply(doc));
  const once = add(misty, 'soft');
  const tap = findStep(once, 'soft')!.step.slots.density;
  const made = once.strands.find((s) => s.id === tap.strand)!;
  expect(made.head).toMatchObject({ type: 'pass', pass: 'depth' });
  expect(made.steps.map((s) => s.type)).toEqual(['mist-density']);
  expect(made.steps[0].values).toMatchObject({ near: 7, visibility: 33 });
  // What was set is not measured again.
  const facts = { values: { low: 1, high: 2 } as never };
  expect(startValues(once, made.steps[0].id, facts)).toEqual({ far: 2 });
  // A second one takes the same density.
  const twice = add(once, 'softer');
  expect(twice.strands).toHaveLength(once.strands.length);
  expect(findStep(twice, 'softer')!.step.slots.density.strand).toBe(made.id);
  expect(allBeginnings(media, from).map((b) => `${b.name} ${b.description}`)).toContain(
    'Mist density of depth: how dense mist is there',
  );
});

test('defocus begins with the depth, sharp in its middle; a smear with the motion pass', () => {
  const motion = [
    {
      ...media[0],
      passes: [{ ...media[0].passes[0], name: 'vectors', label: 'vectors', kind: 'motion' as const }],
    },
  ];
  const add = (type: string, from: typeof media, values?: object) => {
    const added = withFirstLink(addStep('main', 0, type, type), type, firstLink(type, from as never)!);
    const doc = read(startedFrom(added, type, values ? ({ values } as never) : {}).apply(plain()));
    return doc.strands[0].steps[0];
  };
  const defocus = add('defocus', media, { low: 4, middle: 9.1234, high: 30 });
  expect(defocus.values).toMatchObject({ by: 'lens', focus: 9.12 });
  expect(defocus.slots.depth).toBeDefined();
  const smear = add('motion-smear', motion as never);
  expect(smear.values.by).toBe('vectors');
  expect(smear.slots.vectors).toBeDefined();
});

test('the plot of density is the density that is computed', () => {
  const v = {
    near: 2,
    far: 10,
    air: 'extinction',
    extinction: 0.2,
    visibility: 1,
    invertDepth: false,
    maximumDensity: 0.9,
  } as const;
  expect(densityAt({ ...v, curve: 'smooth' }, 6)).toBe(0.5);
  expect(densityAt({ ...v, curve: 'exponential' }, 7)).toBeCloseTo(1 - Math.exp(-1), 12);
  expect(densityAt({ ...v, curve: 'linear', invertDepth: true }, 1)).toBe(0.9);
});
