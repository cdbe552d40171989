import { expect, test } from 'vitest';
import { desk } from '../../tests/machine';
import type { Channel, PixelType } from './exr/types';
import { floatsToHalves } from './half';
import { idMatteAttributes } from './id-mattes';
import { passesOf, passPicture, strandKind } from './passes';

const channel = (name: string, type: PixelType = 'half'): Channel => ({
  name,
  type,
  linear: false,
  xSampling: 1,
  ySampling: 1,
});
const all = [
  ...['A', 'B', 'G', 'R'].map((n) => channel(n)),
  ...['B', 'G', 'R'].map((n) => channel(`shot.diffuse.${n}`)),
  ...['X', 'Y', 'Z'].map((n) => channel(`normal.${n}`)),
  ...['R', 'G', 'B', 'A'].map((n) => channel(`idobject00.${n}`, 'float')),
  channel('Z', 'float'),
  channel('object.id', 'uint'),
];

test('channels are grouped by layer, with kinds by convention', () => {
  const passes = passesOf({ channels: all, attributes: idMatteAttributes('idobject', []) });
  expect(passes.map((p) => [p.label, p.kind, p.channels.length])).toEqual([
    ['beauty', 'picture', 4],
    ['shot.diffuse', 'picture', 3],
    ['normal', 'normal', 3],
    ['Z', 'depth', 1],
    ['object', 'id', 1],
    ['idobject00', 'id-matte', 4],
  ]);
  expect(passes[0].channels).toEqual(['R', 'G', 'B', 'A']);
  expect(passes[1].channels).toEqual(['shot.diffuse.R', 'shot.diffuse.G', 'shot.diffuse.B']);
  expect(passes.map(strandKind)).toEqual(['picture', 'picture', 'data', 'data', 'data', 'data']);
});

test('a pass is placed in the display window by its data window', () => {
  const pass = passesOf({ channels: ['R', 'G', 'B'].map((n) => channel(n)), attributes: {} })[0];
  const plane = floatsToHalves(Float32Array.of(1, 2, 3, 4, 5, 6));
  // Three by two pixels from (−1, 1) in a picture of three by three: the first column is cut off.
  const data = { xMin: -1, yMin: 1, xMax: 1, yMax: 2 };
  const picture = passPicture(desk, pass, [plane, plane, plane], data, {
    xMin: 0,
    yMin: 0,
    xMax: 2,
    yMax: 2,
  });
  const red = Array.from({ length: 9 }, (_, i) => picture.data[i * 4]);
  const alpha = Array.from({ length: 9 }, (_, i) => picture.data[i * 4 + 3]);
  expect(red).toEqual([0, 0, 0, 2, 3, 0, 5, 6, 0]);
  expect(alpha).toEqual([0, 0, 0, 1, 1, 0, 1, 1, 0]);
});
