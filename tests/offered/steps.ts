import { afterAll, beforeAll, expect, test } from 'vitest';
import { steps } from '../../core/steps/registry';
import { kindsOf } from '../../core/steps/shared/define';
import { openWalk, type Walk } from './walk';

/** A step that works on data alone needs a shot with a depth pass; of the others every third stands on drawings, whose frames are larger. */
const shotOf = (i: number) =>
  i % 3 !== 2 || kindsOf(steps[i]).every((kind) => kind === 'data') ? 'Orrery Hall' : 'Moth and Comet';

/** Every step of the registry on one of the two demo shots: added by its name, and all that its sheet offers. */
export function walkSteps(shot: 'Orrery Hall' | 'Moth and Comet'): void {
  let walk: Walk;
  let start: string;
  beforeAll(async () => {
    walk = await openWalk(shot);
    start = await walk.makePlain();
  }, 300_000);
  afterAll(() => walk?.end());

  const own = steps.filter((_, i) => shotOf(i) === shot);
  test.each(own.map((s, i) => [s.name, s, i] as const))(
    '%s',
    async (_, spec, turn) => {
      await walk.addStep(spec, await walk.strandFor(spec));
      expect(await walk.sheet(turn)).toEqual([]);
      await walk.back(start);
    },
    240_000,
  );

  test('every new matte and every pass that a slot offered was chosen in one', async () => {
    expect(await walk.left()).toEqual([]);
  });
}
