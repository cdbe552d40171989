import { expect, test } from 'vitest';
import { rec709, toRec709, toXyz } from './primaries';

const close = (found: readonly number[], wanted: readonly number[], digits: number) => {
  for (const [i, v] of wanted.entries()) expect(found[i]).toBeCloseTo(v, digits);
};

test('Rec. 709 to CIE XYZ is the matrix that IEC 61966-2-1 prints', () => {
  close(toXyz(rec709), [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505], 3.5);
});

test('Rec. 2020 to Rec. 709 is the matrix of ITU-R BT.2087', () => {
  const rec2020 = [0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329];
  // ITU-R BT.2407-0, annex 2, prints this inverse of BT.2087's matrix.
  close(
    toRec709(rec2020)!,
    [1.6605, -0.5876, -0.0728, -0.1246, 1.1329, -0.0083, -0.0182, -0.1006, 1.1187],
    3,
  );
});

test('white stays white from any white point, and the same primaries need nothing', () => {
  const wideWithD60 = [0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767];
  const m = toRec709(wideWithD60)!;
  for (const row of [0, 3, 6]) expect(m[row] + m[row + 1] + m[row + 2]).toBeCloseTo(1, 10);
  expect(toRec709(rec709)).toBeUndefined();
  expect(toRec709([0, 0, 0, 0, 0, 0, 0, 0])).toBeUndefined();
});
