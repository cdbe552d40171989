import { expect, test } from 'vitest';
import { type FileFormat, fileFormats, formatByBytes, formatByName, isPictureName } from './file-formats';

test.each(Object.keys(fileFormats) as FileFormat[])(
  '%s is known by each of its endings, and by its bytes',
  (format) => {
    const { endings, begins } = fileFormats[format];
    for (const ending of endings) {
      expect(formatByName(`hall.0001.${ending}`)).toBe(format);
      expect(formatByName(`HALL.${ending.toUpperCase()}`)).toBe(format);
    }
    for (const first of begins) expect(formatByBytes(Uint8Array.from([...first, 0, 0, 0, 0]))).toBe(format);
  },
);

test('no ending and no beginning belongs to two formats', () => {
  const endings = Object.values(fileFormats).flatMap((f): readonly string[] => f.endings);
  expect(new Set(endings).size).toBe(endings.length);
  const begins = Object.values(fileFormats).flatMap((f): readonly (readonly number[])[] => f.begins);
  for (const [i, a] of begins.entries())
    for (const b of begins.slice(i + 1))
      expect(a.every((byte, k) => b[k] === undefined || byte === b[k])).toBe(false);
});

test('other names and bytes are no pictures', () => {
  for (const name of ['exr', 'hall', 'hall.exr.txt', 'hall.', '.', ''])
    expect(isPictureName(name)).toBe(false);
  expect(formatByBytes(new Uint8Array(0))).toBeUndefined();
  expect(formatByBytes(Uint8Array.of(0x89, 0x50))).toBeUndefined();
});
