import { addStep, chooseObjects, linkPass, linkSlot, newFinish, setValues } from '../../core/finish/edits';
import type { Finish, Head } from '../../core/finish/finish';
import { type Beginning, startStrand } from '../../core/finish/new-strand';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { rectangle } from '../../core/mattes/path';
import type { Values } from '../../core/steps/define';
import { dataPath } from '../data-folder';
import { database, rows, transaction } from '../db/connect';
import { insertShot } from '../media/add-shot';
import { insertFinish } from '../shots/finishes';

export const orreryHallFolder = () => dataPath('demo', 'orrery-hall');

const media = 'orrery_hall';
const pass = (name: string): Head & { type: 'pass' } => ({ type: 'pass', media, pass: name });

function withStep(doc: Finish, strand: string, type: string, id: string, values: Values): Finish {
  const index = doc.strands.find((s) => s.id === strand)!.steps.length;
  const added = addStep(strand, index, type, id).apply(doc);
  return setValues(added, id, values).apply(added);
}

/** The demo's first finish: a bloom that takes only what is far brighter than the hall. */
function lampsLit(): Finish {
  const doc = newFinish('orrery-hall-lamps', 'Lamps lit', pass(''));
  return withStep(doc, 'main', 'bloom', 'bloom', {
    threshold: 2,
    knee: 1,
    radius: 180,
    amount: 0.8,
    tightness: 0.55,
  });
}

/** A second one, of mattes: rays from the slots of the dome alone, a bloom of the lamps, spikes on the brass alone. */
function lightInTheHall(): Finish {
  let doc = newFinish('orrery-hall-light', 'Light in the hall', pass(''));
  const start = (name: string, head: Head, kind: 'picture' | 'matte') => {
    const from: Beginning = { key: name, name, says: '', head, kind };
    const { edit, strand } = startStrand(doc, from);
    doc = edit.apply(doc);
    return strand;
  };
  const link = (step: string, slot: string, strand: string) => {
    doc = linkSlot(doc, step, slot, { strand, after: 'end' }).apply(doc);
  };
  const dome = start('Dome', { type: 'shapes', shapes: [] }, 'matte');
  doc = addShapes(dome, [newShape('shape-1', 'Under the dome', 1, rectangle(-20, -20, 980, 96))]).apply(doc);
  const slots = start('Slots', { type: 'tap', strand: 'main', after: 'head' }, 'picture');
  doc = withStep(doc, slots, 'luminance-key', 'bright', { low: 1, lowSoft: 0.3 });
  doc = withStep(doc, slots, 'combine', 'in-the-dome', { mode: 'intersect' });
  link('in-the-dome', 'other', dome);
  const brass = start(
    'Brass',
    { type: 'ids', media, pass: 'idobject', sort: 'ranked', ranks: 2, objects: [] },
    'matte',
  );
  doc = chooseObjects(doc, brass, ['ring-*', 'meridian', 'heart', 'pedestal']).apply(doc);
  doc = withStep(doc, 'main', 'light-rays', 'rays', {
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
  doc = withStep(doc, 'main', 'bloom', 'bloom', {
    threshold: 0,
    knee: 0,
    radius: 180,
    amount: 0.9,
    tightness: 0.5,
    far: [1, 0.72, 0.45],
  });
  doc = linkPass(doc, 'bloom', 'light', pass('emission'), 'emission').apply(doc);
  doc = withStep(doc, 'main', 'spikes', 'spikes', {
    threshold: 2,
    knee: 0.5,
    rays: 4,
    angle: 38,
    length: 70,
    amount: 1.2,
  });
  link('spikes', 'within', brass);
  return doc;
}

/** Adds the shot Orrery Hall with `last` expected frames, once: who removed it does not get it back. */
export async function seedDemo(last: number): Promise<void> {
  const seeded = await rows("SELECT 1 FROM seeded WHERE name = 'orrery-hall'");
  if (seeded.length > 0) return;
  const shot = await insertShot({
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: media, pattern: `${orreryHallFolder()}/orrery_hall.####.exr`, first: 1, last }],
    first: 1,
    last,
    rate: 24,
    width: 960,
    height: 540,
    finish: lampsLit(),
  });
  await transaction((c) => insertFinish(c, shot, lightInTheHall(), 'begin'));
  await database().query("INSERT INTO seeded (name) VALUES ('orrery-hall')");
}
