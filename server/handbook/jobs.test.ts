import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { passKinds } from '../../core/formats/pass-kinds';
import { steps } from '../../core/steps/registry';
import { type StepSpec, sections } from '../../core/steps/shared/define';
import { shippedRecipes } from '../../demo/recipes/recipes';

/** Jobs lead by names: each must stand on the screen, of one of the steps that the job tells to add, or on the screen as it is. */
const folder = 'docs/handbook/jobs';
const jobs = readdirSync(folder).map((file) => [file, readFileSync(join(folder, file), 'utf8')] as const);

/** Texts of the components, as docs/glossary.md lists them; a test holds that list against the components. */
const ofScreens = readFileSync('docs/glossary.md', 'utf8')
  .split('\n')
  .filter((line) => /^\| `(ui|app)\//.test(line))
  .flatMap((line) => line.split('|')[2].split(' · '))
  .map((text) => text.trim());

const ofStep = ({ name, slots, values }: StepSpec) => [
  name,
  ...Object.values(slots).map((s) => s.name),
  ...Object.values(values).flatMap((spec) => [
    spec.name,
    ...('options' in spec ? Object.values<string>(spec.options) : []),
  ]),
];
/** Strands that are ready to be begun, as the declarations name them. */
const readyStrands = [...readFileSync('core/finish/new-strand.ts', 'utf8').matchAll(/name: '([^']+)'/g)].map(
  (m) => m[1],
);
const capital = (word: string) => word[0].toUpperCase() + word.slice(1);
const everywhere = new Set<string>([
  ...ofScreens,
  ...steps.map((s) => s.name),
  ...Object.keys(sections).map(capital),
  ...Object.values(passKinds),
  ...readyStrands,
]);

test.each(jobs)('every name in %s stands on the screen', (_, text) => {
  const named = [...text.matchAll(/(?<!\*)\*\*?(?!\s)([^*\n]+?)\*\*?(?!\*)/g)].map((m) => m[1]);
  const recipes = shippedRecipes().filter((r) => named.includes(r.name));
  const front = recipes.flatMap((r) => [r.name, ...r.front.map((f) => f.name)]);
  const own = new Set([...front, ...steps.filter((s) => named.includes(s.name)).flatMap(ofStep)]);
  const isKey = (word: string) => /^(Shift |Alt |Ctrl )?[A-Z?]$/.test(word);
  const isSentence = (word: string) => word.endsWith('.');
  const unknown = named.filter(
    (word) => !isKey(word) && !isSentence(word) && !everywhere.has(word) && !own.has(word),
  );
  expect(unknown).toEqual([]);
});
