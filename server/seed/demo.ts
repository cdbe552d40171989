import type { Finish } from '../../core/finish/finish';
import { database, rows, transaction } from '../base/connect';
import { insertShot, type NewShot } from '../shots/add-shot';
import { insertFinish } from '../shots/finishes';
import { mothAndComet } from './moth-and-comet';
import { orreryHall } from './orrery-hall';

/** Adds a shot with its finishes, once: who removed it does not get it back. */
async function seed(name: string, { shot, others }: { shot: NewShot; others: Finish[] }) {
  const seeded = await rows('SELECT 1 FROM seeded WHERE name = ?', [name]);
  if (seeded.length > 0) return;
  const id = await insertShot(shot);
  for (const finish of others) await transaction((c) => insertFinish(c, id, finish, 'begin'));
  await database().query('INSERT INTO seeded (name) VALUES (?)', [name]);
}

/** The demo shots, with `last` expected frames each. */
export async function seedDemo(last: number): Promise<void> {
  await seed('orrery-hall', orreryHall(last));
  await seed('moth-and-comet', mothAndComet(last));
}
