import { expect, test } from 'vitest';
import { catalogueOf, readCatalogue, textsIn, textsOfScreens } from '../../tools/words';

test('the catalogue has every text of the screens, in order, and no other', () => {
  // Otherwise: npx tsx tools/words.ts
  const now = readCatalogue();
  expect(Object.entries(now)).toEqual(Object.entries(catalogueOf(now)));
  expect(Object.keys(now).length).toBeGreaterThan(1000);
});

test('no screen has a text of its own', () => {
  const loose = textsOfScreens().flatMap((file) => file.loose.map((text) => `${file.path}:${text}`));
  expect(loose).toEqual([]);
});

test('finds what is written between tags, in attributes and in sentences, and no classes, codes or comparisons', () => {
  const source = `
    import { x } from 'Some module';
    const kind = state === 'Not this one' ? 'flex items-center' : 'absolute';
    const label = isOpen ? 'Fold the strand' : t\`Unfold \${n} of \${t\`all strands\`}\`;
    const view = <b className="Big and round" title="Close" data-of="No text">Hello there {label} 12</b>;`;
  const { names, loose } = textsIn('view.tsx', source);
  expect(names).toEqual(['Unfold {{0}} of {{1}}', 'all strands']);
  expect(loose.map((text) => text.replace(/^\d+: /, ''))).toEqual([
    'Fold the strand',
    'Close',
    'Hello there',
  ]);
});
