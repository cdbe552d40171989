import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { isDraft } from 'immer';
import { describe, expect, test } from 'vitest';
import { layerAddress } from '../finish/animated';
import * as copies from '../finish/copies';
import { andThen, applyEdit, type Edit, edit } from '../finish/edit';
import * as edits from '../finish/edits';
import type { Finish, Head, PassHead } from '../finish/finish';
import { linkFirst, withFirstLink } from '../finish/first-link';
import * as groupEdits from '../finish/group-edits';
import * as guideEdits from '../finish/guide-edits';
import * as keyEdits from '../finish/key-edits';
import { lanesOf, pasteTable, rowsOfKeys, toTsv } from '../finish/key-table';
import * as layerEdits from '../finish/layer-edits';
import * as mixEdits from '../finish/mix-edits';
import { allBeginnings, startForSlot, startJoined, startStrand } from '../finish/new-strand';
import * as shapeEdits from '../finish/shape-edits';
import { startedFrom } from '../finish/start-values';
import { parseFinish } from '../finish/validation';
import * as valueEdits from '../finish/value-edits';
import type { Pass } from '../formats/passes';
import { ellipse, rectangle } from '../math/path';
import { stepSpec } from '../steps/registry';
import * as apply from './apply';
import { freeRecipe } from './free';
import * as frontEdits from './front-edits';
import { makeRecipe } from './make';
import { recipeOf } from './recipe';
import * as use from './use';

/**
 * Edits are pure: an edit that was prepared once may be tried, previewed and then done, on documents that are frozen. Every function that gives an
 * edit is in the table below; a last test looks for functions that are not.
 */

const pass = (name: string, kind: Pass['kind'], channels: string[] = []): Pass =>
  ({ name, label: name || 'Frame', kind, part: 0, channels, types: [] }) as Pass;
const media = [
  {
    name: 'hall',
    passes: [
      pass('', 'picture'),
      pass('emission', 'emission'),
      pass('reflection', 'picture'),
      pass('depth', 'depth'),
      pass('normal', 'normal'),
      pass('position', 'position'),
      pass('id', 'id', ['id.I']),
      pass('objects00', 'id-matte'),
      pass('objects01', 'id-matte'),
      pass('motion', 'motion'),
    ],
  },
];
const passOf = (name: string): PassHead => ({ type: 'pass', media: 'hall', pass: name });

/** A document in which every edit has something to work on. */
function everything(): Finish {
  let doc = edits.newFinish('f', 'F', passOf(''));
  const heads: Record<string, Head> = {
    stack: {
      type: 'stack',
      layers: ['sky', 'moth'].map((name) => ({ media: name, pass: '', show: true, opacity: 1 })),
    },
    mix: { type: 'mix', media: 'hall', passes: ['sun', 'lamps'].map((p) => ({ pass: p, gain: 1 })) },
    shapes: {
      type: 'shapes',
      shapes: [
        shapeEdits.newShape('sail', 'Sail', rectangle(10, 10, 40, 30)),
        shapeEdits.newShape('mast', 'Mast', ellipse(20, 20, 4, 9)),
      ],
    },
    ids: { type: 'ids', media: 'hall', pass: 'id', idFormat: 'number', ranks: 1, objects: [] },
    colour: { type: 'colour', colour: [0.2, 0.2, 0.2], alpha: 1 },
  };
  doc = {
    ...doc,
    strands: [
      ...doc.strands,
      ...Object.entries(heads).map(([id, head]) => ({
        id,
        name: id,
        kind: id === 'shapes' || id === 'ids' ? ('matte' as const) : ('picture' as const),
        head,
        steps: [],
      })),
    ],
  };
  const done = (change: Edit) => {
    doc = change.apply(doc);
  };
  for (const [i, type] of ['bloom', 'light-rays', 'grade', 'blur', 'glow'].entries())
    done(edits.addStep('main', i, type, type));
  done(copies.duplicateStep(doc, 'bloom', true));
  done(edits.linkSlot(doc, 'bloom', 'mask', { strand: 'shapes', after: 'head' }));
  done(guideEdits.addGuide(doc, 'Lamp', { x: 10, y: 20 }, 1));
  done(guideEdits.moveGuide(doc, 'guide', 12, { x: 30, y: 10 }));
  done(keyEdits.toggleKey(doc, 'bloom', 'amount', 1));
  done(valueEdits.setValue(doc, 'bloom', 'amount', 0.25, 12));
  const made = makeRecipe(doc, 'main', ['blur', 'glow'], 'Soft');
  done(made.edit);
  done(frontEdits.addFront(doc, made.id, 'glow', 'size'));
  done(frontEdits.addDrive(doc, made.id, 'size', 'blur', 'radius'));
  done(use.setOrigin(made.id, { id: 'soft', version: 1, linked: true }, 'Soft'));
  return parseFinish(JSON.parse(JSON.stringify(doc)));
}

const doc = everything();
const recipe = recipeOf(doc, 'recipe', {
  id: 'soft',
  name: 'Soft',
  edition: 2,
  description: '',
  tags: [],
  licence: '',
});
const chosen = [{ of: 'bloom', key: 'amount', frame: 1 }];
const stackHead = layerAddress('stack', { id: undefined } as never, 0);
const facts = {
  threshold: 0.4,
  middle: [3, 4] as const,
  values: { scale: 'linear', low: 1, middle: 5, high: 9 } as never,
};
const beginnings = allBeginnings(media, { strand: 'main', after: 'head', name: 'Frame' });

/** `on` is the document that it is made for, where that is another one. */
type Made = Edit | { edit: Edit; on?: Finish } | undefined;
/** For each function that gives an edit: what it gives on the document above. */
const examples: Record<string, (d: Finish) => Made | Made[]> = {
  addStep: () => edits.addStep('main', 1, 'spikes', 'spikes', 1280),
  joinAt: (d) => edits.joinAt(d, 'main', 1, { strand: 'colour', after: 'end' }, 'join'),
  removeStep: (d) => [
    edits.removeStep(d, 'grade'),
    edits.removeStep(d, 'recipe'),
    edits.removeStep(d, 'bloom'),
  ],
  moveStepTo: (d) => edits.moveStepTo(d, 'grade', 'colour', 0),
  renameStep: (d) => edits.renameStep(d, 'grade', 'Warm'),
  setNote: (d) => edits.setNote(d, 'grade', 'Ask Ada'),
  changeStrand: (d) => edits.changeStrand(d, 'colour', { folded: true, name: 'Wash' }),
  groupStrand: (d) => groupEdits.groupStrand(d, 'colour', undefined),
  beginGroup: (d) => groupEdits.beginGroup(d, 'colour'),
  changeGroup: (d) => groupEdits.changeGroup(d, d.groups?.[0]?.id ?? '', { name: 'Light' }),
  renameFinish: () => edits.renameFinish('Evening'),
  dismiss: () => edits.dismiss('order:bloom'),
  splitAt: (d) => edits.splitAt(d, 'main', 'bloom'),
  moveStep: (d) => edits.moveStep(d, 'grade', -1),
  setBypass: (d) => edits.setBypass(d, 'grade', true),
  setHead: (d) =>
    edits.setHead(d, 'colour', { type: 'colour', colour: [1, 0, 0], alpha: 1 }, 'picture', 'Red'),
  chooseObjects: (d) => edits.chooseObjects(d, 'ids', ['globe', 'arm']),
  addStrand: (d) => edits.addStrand(d, { type: 'colour', colour: [1, 1, 0], alpha: 1 }, 'picture', 'Sun'),
  removeStrand: (d) => edits.removeStrand(d, 'colour'),
  linkSlot: (d) => [
    edits.linkSlot(d, 'grade', 'mask', { strand: 'shapes', after: 'end' }),
    edits.linkSlot(d, 'bloom', 'mask', undefined),
  ],
  linkPass: (d) => edits.linkPass(d, 'bloom', 'light', passOf('emission'), 'emission'),
  withFirstLink: () =>
    withFirstLink(edits.addStep('main', 1, 'depth-mist', 'mist'), 'mist', {
      media: 'hall',
      name: 'depth',
      label: 'Depth',
    }),
  linkFirst: (d) => {
    const on = edits.addStep('main', 1, 'depth-softness', 'soft').apply(d);
    return { edit: linkFirst(on, 'soft', { media: 'hall', name: 'depth', label: 'Depth' }), on };
  },
  startStrand: (d) => beginnings.map((b) => startStrand(d, b)),
  startJoined: (d) => beginnings.map((b) => startJoined(d, b, { strand: 'main', index: 1 })),
  startForSlot: (d) =>
    beginnings.filter((b) => !b.joins).map((b) => startForSlot(d, 'bloom', 'lightMask', b)),
  startedFrom: (d) =>
    beginnings
      .filter((b) => b.steps)
      .map((b) => {
        const { edit, selects } = startJoined(d, b, { strand: 'main', index: 1 });
        return startedFrom(edit, selects, facts);
      }),
  pasteStep: (d) => [
    copies.pasteStep('colour', 0, copies.copyOf(d, 'bloom'), 'bloom-9'),
    copies.pasteStep('colour', 0, copies.copyOf(d, 'recipe'), 'recipe-9'),
  ],
  duplicateStep: (d) => [
    copies.duplicateStep(d, 'grade', false),
    copies.duplicateStep(d, 'grade', true),
    copies.duplicateStep(d, 'recipe', false),
  ],
  duplicateStrand: (d) => [
    copies.duplicateStrand(d, 'main', false),
    copies.duplicateStrand(d, 'stack', true),
  ],
  unlinkCopy: (d) => copies.unlinkCopy(d, 'bloom-2'),
  setLayer: (d) => layerEdits.setLayer(d, 'stack', 0, { solo: true, mode: 'plus' }),
  followLayer: (d) => layerEdits.followLayer(d, 'stack', 1, { strand: 'stack', index: 0 }),
  moveLayer: (d) => layerEdits.moveLayer(d, 'stack', 0, 1),
  addLayer: () => layerEdits.addLayer('stack', 'bell', ''),
  addStrandLayer: (d) => layerEdits.addStrandLayer(d, 'stack', 'colour'),
  duplicateLayer: (d) => layerEdits.duplicateLayer(d, 'stack', 0, true),
  removeLayer: (d) => layerEdits.removeLayer(d, 'stack', 0),
  pullLayerOut: (d) => layerEdits.pullLayerOut(d, 'stack', 0),
  putLayerBack: (d) => layerEdits.putLayerBack(d, 'stack', 0),
  setMixed: (d) => mixEdits.setMixed(d, 'mix', 0, { within: { strand: 'shapes', after: 'end' } }),
  showMix: () => mixEdits.showMix('mix', 'residual'),
  addShapes: () =>
    shapeEdits.addShapes('shapes', [shapeEdits.newShape('flag', 'Flag', rectangle(1, 1, 5, 5))]),
  removeShape: (d) => shapeEdits.removeShape(d, 'shapes', 'sail'),
  changeShape: (d) => shapeEdits.changeShape(d, 'shapes', 'sail', { name: 'Jib', hidden: true }),
  moveShape: (d) => shapeEdits.moveShape(d, 'shapes', 'sail', 1),
  setPath: (d) => shapeEdits.setPath(d, 'shapes', 'sail', 1, ellipse(9, 9, 3, 3)),
  transformShape: (d) => shapeEdits.transformShape(d, 'shapes', 'sail', 1, { moveX: 20 }, true),
  addGuide: (d) => guideEdits.addGuide(d, 'Wick', { x: 1, y: 2 }, 3),
  renameGuide: (d) => guideEdits.renameGuide(d, 'guide', 'Wick'),
  moveGuide: (d) => guideEdits.moveGuide(d, 'guide', 5, { x: 4, y: 4 }),
  measuredGuide: (d) =>
    guideEdits.measuredGuide(d, 'guide', { type: 'middle', strand: 'shapes', after: 'head' }, [
      { frame: 1, x: 3, y: 4 },
      { frame: 2, x: 5, y: 4 },
    ]),
  smoothGuide: (d) => guideEdits.smoothGuide(d, 'guide'),
  removeGuide: (d) => guideEdits.removeGuide(d, 'guide'),
  follow: (d) => guideEdits.follow(d, 'light-rays', { x: 'centreX', y: 'centreY' }, 'guide'),
  toggleKey: (d) => [
    keyEdits.toggleKey(d, 'grade', 'saturation', 4),
    keyEdits.toggleKey(d, stackHead, 'opacity', 4),
  ],
  setInterpolation: (d) => keyEdits.setInterpolation(d, 'bloom', 'amount', 1, 'hold'),
  moveKey: (d) => keyEdits.moveKey(d, 'bloom', 'amount', 1, 5),
  setSpace: (d) => keyEdits.setSpace(d, 'bloom', 'amount', undefined),
  setModulators: (d) =>
    keyEdits.setModulators(d, 'grade', 'saturation', [
      { type: 'wave', form: 'sine', frequency: 2, depth: 0.2, phase: 0 },
    ]),
  bake: (d) => keyEdits.bake(d, 'bloom', 'amount', { first: 1, last: 12 }, 0.01),
  moveKeys: (d) => keyEdits.moveKeys(d, chosen, 2),
  setEasing: (d) => keyEdits.setEasing(d, chosen, 'css-ease'),
  shiftKeys: (d) => keyEdits.shiftKeys(d, chosen, 1, 0.1),
  setHandle: (d) => keyEdits.setHandle(d, chosen[0], 'out', [3, 0.1], true),
  scaleKeys: (d) => keyEdits.scaleKeys(d, chosen, 6, 2),
  removeKeys: (d) => keyEdits.removeKeys(d, chosen),
  changeEach: (d) => keyEdits.changeEach(d, chosen, { value: 0.5 }),
  pasteKeys: (d) => keyEdits.pasteKeys(keyEdits.copiedKeys(d, chosen), 7),
  pasteTable: (d) => pasteTable(d, toTsv(rowsOfKeys(d, lanesOf(d)))),
  setValues: (d) => valueEdits.setValues(d, 'grade', { slopeRed: 1.5, saturation: 0.5 }),
  setValue: (d) => valueEdits.setValue(d, stackHead, 'opacity', 0.5),
  freeRecipe: (d) => freeRecipe(d, 'recipe'),
  addFront: (d) => frontEdits.addFront(d, 'recipe', 'glow', 'gain'),
  addDrive: (d) => {
    const on = frontEdits.removeDrive(d, 'recipe', 'size', 1).apply(d);
    return { edit: frontEdits.addDrive(on, 'recipe', 'size', 'blur', 'radius'), on };
  },
  setDrive: (d) => frontEdits.setDrive(d, 'recipe', 'size', 1, { factor: 3 }),
  removeDrive: (d) => frontEdits.removeDrive(d, 'recipe', 'size', 1),
  removeFront: (d) => frontEdits.removeFront(d, 'recipe', 'size'),
  setFrontDefault: (d) => frontEdits.setFrontDefault(d, 'recipe', 'size'),
  changeFrontWords: (d) => frontEdits.changeFrontWords(d, 'recipe', 'size', { name: 'Size', soft: [0, 9] }),
  moveFront: (d) => frontEdits.moveFront(d, 'recipe', 'size', 1),
  takeBack: (d) => frontEdits.takeBack(d, 'recipe', 'size'),
  updatedUses: (d) => apply.updatedUses(d, recipe),
  takenBack: (d) => {
    const on = valueEdits.setValue(d, 'recipe', 'size', 9).apply(d);
    return { edit: apply.takenBack(on, 'recipe')!, on };
  },
  appliedRecipe: (d) => apply.appliedRecipe(d, recipe, 'end', 1280),
  addRecipe: (d) => use.addRecipe(d, recipe, { strand: 'colour', index: 0 }, { linked: true, width: 1280 }),
  updateUse: () => use.updateUse('recipe', recipe),
  setLinked: (d) => use.setLinked(d, 'recipe', false),
  setOrigin: () => use.setOrigin('recipe', { id: 'soft', version: 3, linked: true }, 'Softer'),
  makeRecipe: (d) => makeRecipe(d, 'main', ['grade'], 'Warm'),
};

/** The objects of a document that edits write into. What values and keys are is only ever replaced. */
function* holders(draft: Finish): Iterable<object> {
  yield draft;
  for (const strand of draft.strands) {
    yield strand;
    yield strand.head;
    if (strand.head.type === 'stack') yield* strand.head.layers;
    if (strand.head.type === 'mix') yield* strand.head.passes;
    if (strand.head.type === 'shapes') yield* strand.head.shapes;
    for (const step of strand.steps) {
      yield step;
      yield step.values;
      yield step.slots;
      yield* Object.values(step.slots);
      if (step.recipe) yield step.recipe;
      if (step.front) yield* step.front;
    }
  }
}

/** A second edit that writes into all of the document. */
const writing = edit('write', (draft) => {
  for (const holder of holders(draft)) {
    if (!isDraft(holder) && Object.isFrozen(holder))
      throw new Error(`Nothing more can be written into ${JSON.stringify(holder)}`);
  }
});

const all = Object.entries(examples).flatMap(([name, make]) => {
  const made = make(doc);
  return (Array.isArray(made) ? made : [made]).map((m, i): [string, Edit, Finish] => {
    if (!m) throw new Error(`${name} made no edit`);
    return [`${name} ${i + 1}`, 'edit' in m ? m.edit : m, ('on' in m && m.on) || doc];
  });
});

describe('an edit that was prepared once', () => {
  test.each(all)('%s does the same each time, and leaves room for another edit', (_, change, doc) => {
    const first = applyEdit(doc, change);
    const second = applyEdit(doc, change);
    expect(second.finish).toEqual(first.finish);
    expect(second.patches).toEqual(first.patches);
    expect(andThen(change, () => writing).apply(doc)).toEqual(first.finish);
  });

  test('every function that gives an edit is among them', () => {
    /** What builds edits of others. */
    const tools = ['edit', 'andThen', 'onEach', 'called'];
    const names = ['core/finish', 'core/recipes'].flatMap((folder) =>
      readdirSync(folder)
        .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts'))
        .flatMap((f) => {
          const source = readFileSync(join(folder, f), 'utf8');
          const declared = source.matchAll(
            /^export (?:const|function) (\w+)(?:(?!^export)[\s\S])*?\)\s*(?::\s*(Edit|\{ edit: Edit[^}]*\})(?: \| undefined)?\s*(?:=>|\{)|(?:=>|\{)\n?[^\n]*$)/gm,
          );
          return [...declared].filter((m) => m[2]).map((m) => m[1]);
        }),
    );
    expect(names.length).toBeGreaterThan(60);
    expect(names.filter((n) => !tools.includes(n) && !(n in examples))).toEqual([]);
  });
});

test('steps have the values that a picture gives them', () => {
  for (const b of beginnings) {
    const { edit, selects } = startStrand(doc, b);
    const type = b.steps?.[0];
    if (!type || !stepSpec(type)?.start) continue;
    const started = startedFrom(edit, selects, facts).apply(doc);
    const step = started.strands.flatMap((s) => s.steps).find((s) => s.id === selects)!;
    expect(step.values, b.name).toMatchObject(stepSpec(type)!.start!(facts));
  }
});
