import { expect, test } from 'vitest';
import { adviceOn } from '../../core/advice/registry';
import type { Pass } from '../../core/formats/passes';
import { onHall, onMoth } from './on-shots';
import { shippedRecipes } from './recipes';

/** Recipes that come with the program are built as they are on purpose: advice does not argue with them. */

const pass = (name: string, kind: Pass['kind']) =>
  ({ name, label: name || 'beauty', kind, part: 0, channels: [], types: [] }) as Pass;
const facts = {
  passes: { orrery_hall: [pass('', 'picture'), pass('emission', 'emission'), pass('depth', 'depth')] },
  frames: {},
  frame: 1,
  broken: {},
  negative: {},
  emptyMattes: [],
  byAlpha: [],
  beyondAlpha: 0,
};

test.each(
  shippedRecipes().flatMap((recipe) =>
    [onHall, onMoth].map((on) => [`${recipe.name}, ${on.name}`, () => on(recipe)] as const),
  ),
)('%s', (_, made) => {
  const { finish, use } = made();
  const inside = adviceOn(finish, facts).filter(
    ({ at, key }) => at.startsWith(`${use}.`) || at === use || /^(odd-order|twice|takes-all)/.test(key),
  );
  expect(inside.filter((f) => !/^missing/.test(f.key)).map((f) => `${f.key}: ${f.title}`)).toEqual([]);
});
