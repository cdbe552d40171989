import { readFileSync } from 'node:fs';
import { afterEach, expect, test } from 'vitest';
import { floatsToHalves } from '../../core/formats/half';
import { exactGaussian, recursiveGaussian } from '../../core/kernels/gaussian';
import { resample, shrink } from '../../core/kernels/sample';
import { dilate, distance } from '../../core/kernels/shape';
import type { Picture } from '../../core/picture/picture';
import { convolveWith } from '../convolve';
import { pictureOf, workspace } from '../runtime';

/** The kernels against values of SciPy and OpenCV, made by `values.py` beside this file and stored with their versions. */
const values = JSON.parse(readFileSync(new URL('./values.json', import.meta.url), 'utf8'));
const { width, height } = values;
afterEach(() => workspace.clear());

const rgba = () => pictureOf(width, height, (i) => values.picture[i >> 2]);
const planeOf = (name: string, w = width, h = height) => pictureOf(w, h, (i) => values[name][i], 1);
const green = (p: Picture) => Array.from({ length: p.width * p.height }, (_, i) => p.data[i * 4 + 1]);
function close(got: ArrayLike<number>, name: string, tolerance: number) {
  const reference: number[] = values[name];
  expect(got.length).toBe(reference.length);
  const peak = Math.max(...reference.map(Math.abs));
  for (let i = 0; i < got.length; i++) expect(Math.abs(got[i] - reference[i])).toBeLessThan(tolerance * peak);
}

test('exact Gaussians are those of scipy.ndimage.gaussian_filter', () => {
  close(green(exactGaussian(workspace, rgba(), 1.5)), 'gaussian 1.5 black', 1e-6);
  close(green(exactGaussian(workspace, rgba(), 1.5, 'continued')), 'gaussian 1.5 continued', 1e-6);
});

test('the recursive Gaussian is that of SciPy within 1 % of its peak, on a picture not much wider than it', () => {
  close(green(recursiveGaussian(workspace, rgba(), 8, 'continued')), 'gaussian 8 continued', 0.01);
});

test('convolution is scipy.signal.convolve2d', () => {
  close(green(convolveWith(workspace, rgba(), planeOf('kernel', 7, 5))), 'convolution', 1e-6);
});

test('distance is OpenCV’s precise distanceTransform', () => {
  close(distance(workspace, planeOf('matte')).data, 'distance', 1e-6);
});

test('a disc’s maximum is OpenCV’s dilate', () => {
  close(dilate(workspace, planeOf('picture'), 4).data, 'dilation 4', 1e-6);
});

test('area means are OpenCV’s INTER_AREA', () => {
  const even = pictureOf(22, 16, (i) => values.picture[Math.floor((i >> 2) / 22) * width + ((i >> 2) % 22)]);
  close(green(shrink(workspace, even, 0.5)), 'area mean', 1e-6);
});

test('bilinear sampling is scipy.ndimage.map_coordinates inside the picture, within 1/256 pixel', () => {
  // Covered all over: where alpha passed 1 its colour would be held with it.
  const picture = rgba();
  for (let i = 3; i < picture.data.length; i += 4) picture.data[i] = 1;
  const out = green(
    resample(workspace, picture, 11, 9, { a: 0.9, b: -0.2, c: 4, d: 0.3, e: 0.8, f: 1 }, 'bilinear'),
  );
  close(out, 'bilinear', 1 / 256);
});

test('halves are NumPy’s', () => {
  const floats = Float32Array.from(values.picture as number[], (v) => Math.fround(Math.fround(v * 300) - 20));
  const ours = floatsToHalves(floats);
  let different = 0;
  // The stored values have seven digits: a few fall on the other side of a half.
  (values.halves as number[]).forEach((h, i) => {
    expect(Math.abs(ours[i] - h)).toBeLessThanOrEqual(1);
    if (ours[i] !== h) different++;
  });
  expect(different).toBeLessThan(8);
});
