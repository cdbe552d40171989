import fc from 'fast-check';
import { unzlibSync, zlibSync } from 'fflate';
import { expect, test } from 'vitest';
import { pngText, withPngText } from './png-text';

/** One black pixel, as the smallest PNG there is; written by hand after the standard. */
const pixel = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNgAAAAAgABSK+kcQAAAABJRU5ErkJggg=='),
  (c) => c.charCodeAt(0),
);

test('any text comes back, of any length and any letters', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 3000 }), (text) => {
      const file = withPngText(pixel, 'zafiro', text, (d) => zlibSync(d));
      expect(pngText(file, 'zafiro', unzlibSync)).toBe(text);
      expect(pngText(file, 'other', unzlibSync)).toBeUndefined();
    }),
  );
  expect(pngText(pixel, 'zafiro', unzlibSync)).toBeUndefined();
});

test('the beginning of a file is enough; a text that is cut or damaged is said', () => {
  const file = withPngText(pixel, 'zafiro', 'Glowing '.repeat(900), (d) => zlibSync(d));
  const end = file.length - (pixel.length - 33);
  expect(pngText(file.subarray(0, end), 'zafiro', unzlibSync)).toContain('Glowing');
  expect(() => pngText(file.subarray(0, end - 20), 'zafiro', unzlibSync)).toThrow('ends in its text');
  const damaged = file.slice();
  damaged.fill(7, 60, 90);
  expect(() => pngText(damaged, 'zafiro', unzlibSync)).toThrow('damaged');
  expect(() => withPngText(new Uint8Array(40), 'zafiro', '', (d) => d)).toThrow('no PNG');
});
