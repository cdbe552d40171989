import fc from 'fast-check';
import { expect, test } from 'vitest';
import { pathOf } from './frame-pattern';
import { patternText, rangesInWords, sequencesOf } from './sequences';

const found = (names: string[]) =>
  sequencesOf(names).map((s) => [patternText(s.pattern), s.frames.length, rangesInWords(s.gaps)]);

test('numbered files belong together, with their gaps', () => {
  expect(found(['hall.0001.exr', 'hall.0002.exr', 'hall.0005.exr', 'notes.txt', 'sky.png'])).toEqual([
    ['hall.####.exr', 3, '3–4'],
    ['sky.png', 1, ''],
  ]);
});

test('the last number is the frame; versions and folders stay in the name', () => {
  expect(found(['a/shot_v02_0998.exr', 'a/shot_v02_0999.exr', 'a/shot_v02_1000.exr'])).toEqual([
    ['a/shot_v02_####.exr', 3, ''],
  ]);
});

test('without padding, negative, past the padding, and mixed paddings apart', () => {
  expect(found(['f9.png', 'f10.png', 'f11.png'])).toEqual([['f#.png', 3, '']]);
  expect(found(['f.-002.exr', 'f.-001.exr', 'f.000.exr', 'f.001.exr'])).toEqual([['f.###.exr', 4, '']]);
  expect(found(['f.99.exr', 'f.100.exr', 'f.101.exr'])).toEqual([['f.##.exr', 3, '']]);
  expect(found(['f.01.exr', 'f.02.exr', 'f.1.exr', 'f.2.exr'])).toEqual([
    ['f.##.exr', 2, ''],
    ['f.#.exr', 2, ''],
  ]);
});

test('one numbered file alone is a still', () => {
  expect(found(['matte_07.png'])).toEqual([['matte_07.png', 1, '']]);
});

test('any set of frames is found again, each file once', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: -300, max: 12000 }), { minLength: 2, maxLength: 40 }),
      fc.integer({ min: 1, max: 6 }),
      (frames, digits) => {
        const pattern = { before: 'r/x.', after: '.exr', digits, still: false };
        const paths = frames.map((f) => pathOf(pattern, f));
        const found = sequencesOf(paths).flatMap((s) => s.frames.map((f) => pathOf(s.pattern, f)));
        expect(found.sort()).toEqual([...new Set(paths)].sort());
      },
    ),
  );
});
