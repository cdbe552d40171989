import { expect, test } from 'vitest';
import { fitsPattern } from '../mattes/ids';
import { fromSvg } from '../mattes/svg';
import { frameOf, parseFrames, parsePattern } from './frame-pattern';
import { limits } from './limits';
import { patternText, sequencesOf } from './sequences';

/** Whatever comes in, the answer comes at once: each of these stood for minutes or for ever. */

test('pictures whose numbers lie far apart are no sequence, but stills', () => {
  const found = sequencesOf(['IMG_0000000001.jpg', 'IMG_1764000000.jpg', 'IMG_0000200000.jpg']);
  expect(found.map((s) => [s.pattern.still, s.frames.length])).toEqual([
    [true, 1],
    [true, 1],
    [true, 1],
  ]);
});

test('runs that lie far apart are sequences of their own, written by their bounds, and read back', () => {
  const names = [1, 2, 3, 500_001, 500_002].map((n) => `hall.${String(n).padStart(6, '0')}.exr`);
  const found = sequencesOf(names);
  expect(found.map((s) => s.frames)).toEqual([
    [1, 2, 3],
    [500_001, 500_002],
  ]);
  const texts = found.map((s) => patternText(s.pattern));
  expect(texts).toEqual(['hall.[000001-000003].exr', 'hall.[500001-500002].exr']);
  for (const [i, text] of texts.entries()) {
    const pattern = parsePattern(text);
    expect(names.map((n) => frameOf(pattern, n)).filter((f) => f !== undefined)).toEqual(found[i].frames);
  }
});

test('a gap that a render may have keeps its sequence whole', () => {
  expect(sequencesOf(['a.0001.exr', 'a.0900.exr'])).toHaveLength(1);
});

test('frame numbers past those that a number holds exactly are refused in words', () => {
  expect(() => parseFrames('9007199254740993')).toThrow(/no frame/);
  expect(() => parseFrames('9007199254740990-9007199254740995')).toThrow(/no frame/);
  expect(() => parseFrames('1-200000')).toThrow(/shorter range/);
  expect(() => parseFrames('1-60000,60001-120000')).toThrow(/shorter range/);
  expect(parseFrames(`${limits.frameNumber}`)).toEqual([limits.frameNumber]);
  expect(frameOf(parsePattern('a.####.exr'), 'a.9007199254740993.exr')).toBeUndefined();
  expect(sequencesOf(['a.9007199254740993.exr', 'a.9007199254740994.exr'])).toHaveLength(2);
});

test('patterns mean what they say, whatever stars they have', () => {
  expect(fitsPattern('moth*', 'Moth_wing')).toBe(true);
  expect(fitsPattern('*wing', 'moth_wing')).toBe(true);
  expect(fitsPattern('m?th', 'moth')).toBe(true);
  expect(fitsPattern('m?th', 'mth')).toBe(false);
  expect(fitsPattern('*a*b*', 'xxaxxbxx')).toBe(true);
  expect(fitsPattern('a.b', 'axb')).toBe(false);
  expect(fitsPattern('', '')).toBe(true);
  expect(fitsPattern('**', '')).toBe(true);
  const stars = `${'*a'.repeat(40)}b`;
  expect(fitsPattern(stars, 'a'.repeat(5000))).toBe(false);
});

test('an SVG of unclosed tags and quotes is read in one walk', () => {
  expect(() => fromSvg('<path '.repeat(100_000))).toThrow(/no path/);
  expect(() => fromSvg(`<path d="${'M0 0'.repeat(50_000)}`)).toThrow(/no path/);
  const [one] = fromSvg(`<svg><path id='leaf' d='M0 0 L10 0 L10 10 Z'/></svg>`);
  expect(one).toMatchObject({ name: 'leaf' });
  expect(one.points).toHaveLength(3);
});

test('a path of more points than a document keeps is refused, with what to do', () => {
  const many = `M0 0${' L1 1'.repeat(limits.pathPoints + 1)}Z`;
  expect(() => fromSvg(`<path d="${many}"/>`)).toThrow(/points, at most 2000 are taken. Simplify/);
});
