import { expect, test } from 'vitest';
import { workspace } from '../../tests/runtime';
import type { Channel, PixelType } from './exr/types';
import { floatsToHalves } from './half';
import { idMatteAttributes } from './id-mattes';
import { kindOf } from './pass-kinds';
import { asIs, passPicture } from './pass-picture';
import { passesOf, strandKind } from './passes';

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
  const passes = passesOf([{ name: '', channels: all, attributes: idMatteAttributes('idobject', []) }]);
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

test('axes without a layer are one vector, beside a picture too; its Y is no luminance and its Z no depth', () => {
  const labels = (names: string[]) =>
    passesOf([{ name: '', channels: names.map((n) => channel(n, 'float')), attributes: {} }]).map((p) => [
      p.label,
      p.kind,
      p.channels.join(''),
    ]);
  expect(labels(['X', 'Y', 'Z'])).toEqual([['XYZ', 'data', 'XYZ']]);
  expect(labels(['x', 'y', 'z'])).toEqual([['XYZ', 'data', 'xyz']]);
  expect(labels(['A', 'B', 'G', 'R', 'X', 'Y', 'Z'])).toEqual([
    ['beauty', 'picture', 'RGBA'],
    ['XYZ', 'data', 'XYZ'],
  ]);
  expect(labels(['Y', 'Z'])).toEqual([
    ['beauty', 'picture', 'Y'],
    ['Z', 'depth', 'Z'],
  ]);
});

test('a pass is placed in the display window by its data window', () => {
  const pass = passesOf([{ name: '', channels: ['R', 'G', 'B'].map((n) => channel(n)), attributes: {} }])[0];
  const plane = floatsToHalves(Float32Array.of(1, 2, 3, 4, 5, 6));
  // Three by two pixels from (−1, 1) in a picture of three by three: the first column is cut off.
  const data = { xMin: -1, yMin: 1, xMax: 1, yMax: 2 };
  const picture = passPicture(workspace, {
    pass,
    planes: [plane, plane, plane],
    dataWindow: data,
    displayWindow: { xMin: 0, yMin: 0, xMax: 2, yMax: 2 },
    colour: asIs,
  });
  const red = Array.from({ length: 9 }, (_, i) => picture.data[i * 4]);
  const alpha = Array.from({ length: 9 }, (_, i) => picture.data[i * 4 + 3]);
  expect(red).toEqual([0, 0, 0, 2, 3, 0, 5, 6, 0]);
  expect(alpha).toEqual([0, 0, 0, 1, 1, 0, 1, 1, 0]);
});

test.each([
  ['depth', 'Z', 'depth'],
  ['ViewLayer.Depth', 'Z', 'depth'],
  ['View.Mist', 'Z', 'mist'],
  ['mist', 'Y', 'mist'],
  ['worldNormal', 'XYZ', 'normal'],
  ['N', 'RGB', 'normal'],
  ['shot.P', 'XYZ', 'position'],
  ['WorldPosition', 'RGB', 'position'],
  ['motionVector', 'XY', 'motion'],
  ['Vector', 'XYZW', 'motion'],
  ['IndexOB', 'X', 'id'],
  ['material_id', 'R', 'id'],
  ['Emit', 'RGB', 'emission'],
  ['key.emission', 'RGB', 'emission'],
  ['facing_ratio', 'Y', 'facing'],
  ['mask', 'Y', 'alpha'],
  ['', 'A', 'alpha'],
  ['diffuse_direct', 'RGB', 'picture'],
  ['ring', 'Q', 'data'],
])('layer %s with channels %s is a %s pass', (layer, parts, kind) => {
  expect(
    kindOf(
      layer,
      [...parts],
      [...parts].map(() => 'half' as const),
    ),
  ).toBe(kind);
});

test('a file of several parts calls a layer without a name as its part; no name stands twice', () => {
  const rgb = ['R', 'G', 'B'].map((n) => channel(n));
  const passes = passesOf([
    { name: 'main', channels: rgb, attributes: {} },
    { name: 'glow', channels: rgb, attributes: {} },
    { name: 'left', channels: [channel('depth.Z', 'float')], attributes: {} },
    { name: 'right', channels: [channel('depth.Z', 'float')], attributes: {} },
  ]);
  expect(passes.map((p) => [p.name, p.part])).toEqual([
    ['', 0],
    ['glow', 1],
    ['depth', 2],
    ['right.depth', 3],
  ]);
});

test('integers are decoded by the encoding, straight colour is multiplied by alpha', () => {
  const [pass] = passesOf([
    {
      name: '',
      channels: ['R', 'G', 'B', 'A'].map((name) => ({ name, type: 'uint8' as const })),
      attributes: {},
    },
  ]);
  const planes = [
    Uint8Array.of(255, 188),
    Uint8Array.of(0, 188),
    Uint8Array.of(0, 188),
    Uint8Array.of(128, 255),
  ];
  const window = { xMin: 0, yMin: 0, xMax: 1, yMax: 0 };
  const frame = { pass, planes, dataWindow: window, displayWindow: window };
  const { data } = passPicture(workspace, { ...frame, colour: { encoding: 'srgb', straight: true } });
  expect(data[0]).toBeCloseTo(128 / 255, 6);
  // 188 of 255 is the sRGB code of light 0.5029 (IEC 61966-2-1).
  expect(data[4]).toBeCloseTo(0.50289, 4);
  const linear = passPicture(workspace, { ...frame, colour: asIs });
  expect(linear.data[0]).toBe(1);
  expect(linear.data[4]).toBeCloseTo(188 / 255, 6);
});
