import { addStep, newFinish, setValue } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { dataPath } from '../data-folder';
import { database, rows } from '../db/connect';
import { insertShot } from '../media/add-shot';

export const orreryHallFolder = () => dataPath('demo', 'orrery-hall');

/** The demo's first finish: a bloom that takes only what is far brighter than the hall. */
function lampsLit(): Finish {
  let doc = newFinish('orrery-hall-lamps', 'Lamps lit', { type: 'pass', media: 'orrery_hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
  for (const [key, value] of Object.entries({
    threshold: 2,
    knee: 1,
    radius: 180,
    amount: 0.8,
    tightness: 0.55,
  })) {
    doc = setValue(doc, 'bloom', key, value).apply(doc);
  }
  return doc;
}

/** Adds the shot Orrery Hall with `last` expected frames, once: who removed it does not get it back. */
export async function seedDemo(last: number): Promise<void> {
  const seeded = await rows("SELECT 1 FROM seeded WHERE name = 'orrery-hall'");
  if (seeded.length > 0) return;
  await insertShot({
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: 'orrery_hall', pattern: `${orreryHallFolder()}/orrery_hall.####.exr`, first: 1, last }],
    first: 1,
    last,
    rate: 24,
    width: 960,
    height: 540,
    finish: lampsLit(),
  });
  await database().query("INSERT INTO seeded (name) VALUES ('orrery-hall')");
}
