import { afterAll, beforeAll, expect, test } from 'vitest';
import { steps } from '../../core/steps/registry';
import { openWalk, type Walk } from './walk';

/** Every step of one half of the registry on a demo shot: added by its name, and all that its sheet offers. */
export function walkSteps(shot: 'Orrery Hall' | 'Moth and Comet', half: 0 | 1): void {
  let walk: Walk;
  let start: string;
  beforeAll(async () => {
    walk = await openWalk(shot);
    // The picture as it came in, so that what is chosen is computed soon, and strands for steps that work on mattes and on data.
    await walk.page.run(
      `const { store } = zafiroSession;
       const media = arguments[0];
       const { finish } = store.getState();
       const main = finish.strands.find((s) => s.id === finish.main);
       const head = main.head.type === 'stack' ? { ...main.head, layers: main.head.layers.map(({ from, ...layer }) => layer) } : main.head;
       const { guides, ...plain } = finish;
       store.getState().replace({
         ...plain,
         strands: [
           { ...main, head, steps: [] },
           ...finish.strands.filter((s) => s.head.type === 'pass' && s.id !== finish.main).slice(0, 1).map((s) => ({ ...s, steps: [] })),
           { id: 'walk-matte', name: 'Walk matte', kind: 'matte', head: { type: 'shapes', shapes: [] }, steps: [] },
           ...(media ? [{ id: 'walk-data', name: 'Walk data', kind: 'data', head: { type: 'pass', media, pass: 'depth' }, steps: [] }] : []),
         ],
       }, 'prepare the walk')`,
      walk.detail.media.find((m) => m.passes.some((p) => p.kind === 'depth'))?.name ?? null,
    );
    start = await walk.same();
  }, 300_000);
  afterAll(() => walk?.end());

  test.each(steps.filter((_, i) => i % 2 === half).map((s, i) => [s.name, s, i] as const))(
    '%s',
    async (_, spec, turn) => {
      const strand = await walk.strandFor(spec);
      // A shot without such a pass offers the step, and says that it is inactive; there is nothing to walk.
      if (strand === undefined) return;
      await walk.addStep(spec, strand);
      expect(await walk.sheet(turn)).toEqual([]);
      await walk.back(start);
    },
    240_000,
  );
}
