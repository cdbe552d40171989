import { mixedAddress } from '../../core/finish/animated';
import { chooseObjects, linkPass, newFinish, renameStep } from '../../core/finish/edits';
import type { Finish, Head } from '../../core/finish/finish';
import { addGuide, follow, moveGuide } from '../../core/finish/guide-edits';
import { setModulators } from '../../core/finish/key-edits';
import { setMixed } from '../../core/finish/mix-edits';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { setValues } from '../../core/finish/value-edits';
import { projected, projectionOf } from '../../core/formats/camera';
import { rectangle } from '../../core/math/path';
import type { Values } from '../../core/steps/shared/define';
import { building } from '../../demo/building';
import { size } from '../../demo/orrery-hall/render';
import { globePlan, sceneAt } from '../../demo/orrery-hall/scene';
import { cameraAttributes } from '../../demo/orrery-hall/write';
import { onHall } from '../../demo/recipes/on-shots';
import { shippedRecipes } from '../../demo/recipes/recipes';
import { dataPath } from '../base/data-folder';
import type { NewShot } from '../shots/add-shot';

export const orreryHallFolder = () => dataPath('demo', 'orrery-hall');

const media = 'orrery_hall';
const pass = (name: string): Head & { type: 'pass' } => ({ type: 'pass', media, pass: name });

/** The demo's first finish: a bloom that takes only what is far brighter than the hall. */
function lampsLit(): Finish {
  const build = building(newFinish('orrery-hall-lamps', 'Lamps lit', pass('')));
  build.step('main', 'bloom', 'bloom', {
    threshold: 2,
    knee: 1,
    radius: 180,
    amount: 0.8,
    tightness: 0.55,
  });
  return build.doc;
}

/** A matte of the dome's slots: what is bright above the ring of the dome. */
function sunInTheSlots({ strand, step, link, edit }: ReturnType<typeof building>): string {
  const dome = strand('Dome', { type: 'shapes', shapes: [] }, 'matte');
  edit(() => addShapes(dome, [newShape('shape-1', 'Under the dome', rectangle(-20, -20, 980, 96))]));
  const slots = strand('Slots', { type: 'tap', strand: 'main', after: 'head' }, 'picture');
  step(slots, 'luminance-key', 'bright', { low: 1, lowSoft: 0.3 });
  step(slots, 'combine', 'in-the-dome', { mode: 'intersect' });
  link('in-the-dome', 'other', dome);
  return slots;
}

/** The globe whose light is seen in the air, and where it is on a frame, by the hall's own camera. */
const leading = globePlan[0];
function placeOfLeading(frame: number): { x: number; y: number } {
  const { globes, camera } = sceneAt(frame);
  const { x, y, z } = globes[0];
  const projection = projectionOf(cameraAttributes(camera), size.width / size.height)!;
  return projected(projection, [x, y, z], size)!;
}

/** A second one, of mattes: rays from the slots of the dome alone, a bloom of the lamps, spikes on the brass alone. */
function lightInTheHall(last: number): Finish {
  const build = building(newFinish('orrery-hall-light', 'Light in the hall', pass('')));
  const { strand, step, link } = build;
  const slots = sunInTheSlots(build);
  const brass = strand(
    'Brass',
    { type: 'ids', media, pass: 'idobject', idFormat: 'ranked', ranks: 2, objects: [] },
    'matte',
  );
  build.edit((doc) => chooseObjects(doc, brass, ['ring-*', 'meridian', 'heart', 'pedestal']));
  step('main', 'light-rays', 'rays', {
    threshold: 0,
    knee: 0,
    centreX: 250,
    centreY: 430,
    length: 0.85,
    falloff: 1,
    beamContrast: 0.5,
    beamCount: 160,
    beamEvolution: 0.06,
    amount: 1.6,
    tint: [1, 0.86, 0.62],
  });
  link('rays', 'lightMask', slots);
  // As clouds pass the sun.
  build.edit((doc) =>
    setModulators(doc, 'rays', 'amount', [{ type: 'drift', rate: 0.8, depth: 0.5, seed: 3 }]),
  );
  step('main', 'bloom', 'bloom', {
    threshold: 0,
    knee: 0,
    radius: 180,
    amount: 0.9,
    tightness: 0.5,
    farTint: [1, 0.72, 0.45],
  });
  build.edit((doc) => linkPass(doc, 'bloom', 'light', pass('emission'), 'emission'));
  step('main', 'spikes', 'spikes', {
    threshold: 2,
    knee: 0.5,
    rays: 4,
    angle: 38,
    length: 70,
    amount: 1.2,
  });
  link('spikes', 'lightMask', brass);

  // The light of one globe in the haze of the hall goes with it, as the rings turn and the camera draws near.
  const lamp = strand(
    'Leading globe',
    { type: 'ids', media, pass: 'idobject', idFormat: 'ranked', ranks: 2, objects: [] },
    'matte',
  );
  build.edit((doc) => chooseObjects(doc, lamp, [leading.name]));
  step('main', 'light-rays', 'globe-rays', {
    threshold: 0,
    knee: 0,
    length: 0.8,
    falloff: 1,
    beamContrast: 0.6,
    beamCount: 60,
    amount: 1.4,
    tint: [1, 0.8, 0.55],
  });
  build.edit((doc) => renameStep(doc, 'globe-rays', 'Rays of the globe'));
  build.edit((doc) => linkPass(doc, 'globe-rays', 'light', pass('emission'), 'emission'));
  link('globe-rays', 'lightMask', lamp);
  build.edit((doc) => addGuide(doc, 'Globe', { x: 0, y: 0 }, 1));
  const { id: guide } = build.doc.guides![0];
  for (let frame = 1; frame <= last; frame++)
    build.edit((doc) => moveGuide(doc, guide, frame, placeOfLeading(frame)));
  build.edit((doc) => follow(doc, 'globe-rays', { x: 'centreX', y: 'centreY' }, guide));

  // What the camera adds last.
  step('main', 'fringe', 'fringe', { shift: 1.6 });
  step('main', 'vignette', 'vignette', { focalLength: 24, amount: 0.8 });
  step('main', 'curves', 'curves', {
    luminance: [
      [-5, -5.3],
      [-1, -0.9],
      [2, 2.4],
    ],
  });
  step('main', 'grain', 'grain', { amount: 0.05, size: 1.4 });
  return build.doc;
}

/** A third: the hall in the mist of a morning, its lamps turned down, reflections where surfaces turn away. */
function morningMist(): Finish {
  const head: Head = {
    type: 'mix',
    media,
    passes: ['sun', 'fill', 'reflection', 'emission'].map((name) => ({ pass: name, gain: 1 })),
    beauty: '',
  };
  const build = building(newFinish('orrery-hall-mist', 'Morning mist', head));
  const { strand, step, link } = build;
  const ids: Head = { type: 'ids', media, pass: 'idobject', idFormat: 'ranked', ranks: 2, objects: [] };
  const globes = strand('Star-globes', ids, 'matte');
  build.edit((doc) => chooseObjects(doc, globes, ['globe*']));
  // The lamps alone at a third of their light: all else is as it was rendered.
  build.edit((doc) => setMixed(doc, 'main', 3, { within: { strand: globes, after: 'end' } }));
  build.edit((doc) => setValues(doc, mixedAddress('main', 3), { gain: 1 / 3 }));

  const polish = strand('Fresnel', pass('normal'), 'data');
  step(polish, 'facing', 'fresnel', { measure: 'exact', index: 1.5, black: 0.04 });
  build.edit((doc) => linkPass(doc, 'fresnel', 'positions', pass('position'), 'position', undefined, 'data'));
  const shine = strand('Reflection', pass('reflection'), 'picture');
  step('main', 'join', 'reflections', { mode: 'plus', amount: 0.8 });
  link('reflections', 'picture', shine);
  link('reflections', 'mask', polish);

  const air: Values = {
    near: 9,
    far: 60,
    curve: 'exponential',
    visibility: 80,
    sky: 0.6,
    maximumDensity: 0.92,
    groundHeight: 0.6,
    heightFalloff: 5.5,
    noiseAmount: 0.4,
    noiseSize: 210,
    noiseSpeed: 1.5,
    noiseEvolution: 0.02,
  };
  const depth = strand('Depth', pass('depth'), 'data');
  step(depth, 'mist-density', 'density', air);
  build.edit((doc) => linkPass(doc, 'density', 'positions', pass('position'), 'position', undefined, 'data'));
  step('main', 'depth-mist', 'mist', {
    ...air,
    stops: [
      [0, 1, 0.5, 0.38, 0.25],
      [0.45, 1, 0.7, 0.56, 0.39],
      [1, 1, 0.95, 0.83, 0.66],
    ],
  });
  build.edit((doc) => linkPass(doc, 'mist', 'depth', pass('depth'), 'depth', undefined, 'data'));
  build.edit((doc) => linkPass(doc, 'mist', 'positions', pass('position'), 'position', undefined, 'data'));
  step('main', 'depth-softness', 'softness', { radius: 1.6 });
  link('softness', 'density', depth);

  step('main', 'bloom', 'bloom', {
    threshold: 0,
    knee: 0,
    radius: 150,
    amount: 0.55,
    tightness: 0.55,
    boostInMist: 2.5,
    farTint: [1, 0.8, 0.6],
  });
  build.edit((doc) => linkPass(doc, 'bloom', 'light', pass('emission'), 'emission'));
  link('bloom', 'mist', depth);
  const slots = sunInTheSlots(build);
  step('main', 'light-rays', 'rays', {
    threshold: 0,
    knee: 0,
    centreX: 250,
    centreY: 430,
    length: 0.9,
    falloff: 0.8,
    beamContrast: 0.55,
    beamCount: 150,
    beamEvolution: 0.05,
    amount: 1.5,
    tint: [1, 0.86, 0.64],
  });
  link('rays', 'lightMask', slots);
  for (const [id, name] of Object.entries({ reflections: 'Reflections', fresnel: 'Fresnel' }))
    build.edit((doc) => renameStep(doc, id, name));
  return build.doc;
}

/** A fourth: one globe by a recipe of the library, whose rays go with it. */
function radiantGlobe(last: number): Finish {
  const recipe = shippedRecipes().find((r) => r.id === 'radiant-object')!;
  const { finish, use } = onHall(recipe);
  const build = building({ ...finish, id: 'orrery-hall-radiant', name: 'Radiant globe' });
  build.edit((doc) => addGuide(doc, 'Globe', { x: 0, y: 0 }, 1));
  const { id: guide } = build.doc.guides![0];
  for (let frame = 1; frame <= last; frame++)
    build.edit((doc) => moveGuide(doc, guide, frame, placeOfLeading(frame)));
  build.edit((doc) => follow(doc, use, { x: 'centre-x', y: 'centre-y' }, guide));
  build.step('main', 'vignette', 'vignette', { focalLength: 24, amount: 0.8 });
  return build.doc;
}

/** The demo shot of rendered frames, and the finishes beside its first. */
export const orreryHall = (last: number): { shot: NewShot; others: Finish[] } => ({
  shot: {
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: media, pattern: `${orreryHallFolder()}/orrery_hall.####.exr`, first: 1, last }],
    first: 1,
    last,
    rate: 24,
    width: 960,
    height: 540,
    finish: lampsLit(),
  },
  others: [lightInTheHall(last), morningMist(), radiantGlobe(last)],
});
