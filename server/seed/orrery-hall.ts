import { chooseObjects, linkPass, newFinish } from '../../core/finish/edits';
import type { Finish, Head } from '../../core/finish/finish';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { rectangle } from '../../core/mattes/path';
import { dataPath } from '../data-folder';
import type { NewShot } from '../media/add-shot';
import { building } from './building';

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

/** A second one, of mattes: rays from the slots of the dome alone, a bloom of the lamps, spikes on the brass alone. */
function lightInTheHall(): Finish {
  const build = building(newFinish('orrery-hall-light', 'Light in the hall', pass('')));
  const { strand, step, link } = build;
  const dome = strand('Dome', { type: 'shapes', shapes: [] }, 'matte');
  build.edit(() => addShapes(dome, [newShape('shape-1', 'Under the dome', 1, rectangle(-20, -20, 980, 96))]));
  const slots = strand('Slots', { type: 'tap', strand: 'main', after: 'head' }, 'picture');
  step(slots, 'luminance-key', 'bright', { low: 1, lowSoft: 0.3 });
  step(slots, 'combine', 'in-the-dome', { mode: 'intersect' });
  link('in-the-dome', 'other', dome);
  const brass = strand(
    'Brass',
    { type: 'ids', media, pass: 'idobject', sort: 'ranked', ranks: 2, objects: [] },
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
    breaks: 0.5,
    beams: 160,
    change: 0.06,
    amount: 1.6,
    tint: [1, 0.86, 0.62],
  });
  link('rays', 'within', slots);
  step('main', 'bloom', 'bloom', {
    threshold: 0,
    knee: 0,
    radius: 180,
    amount: 0.9,
    tightness: 0.5,
    far: [1, 0.72, 0.45],
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
  link('spikes', 'within', brass);
  return build.doc;
}

/** The demo shot of rendered frames, and a second finish beside its first. */
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
  others: [lightInTheHall()],
});
