import fc from 'fast-check';
import { expect, test } from 'vitest';
import { plainRuntime } from '../../tests/runtime';
import { decodeValue, type Encoding, encodings } from '../colour/encoding';
import { openWorkspace } from '../kernels/workspace';
import { floatBitsOfHalf } from './half';
import { asIs, passPicture } from './pass-picture';
import type { Pass } from './passes';
import type { Plane, SampleType } from './samples';

const runtime = plainRuntime(8);
const passOf = (types: SampleType[], kind: Pass['kind'] = 'picture'): Pass => ({
  name: '',
  label: 'beauty',
  kind,
  part: 0,
  channels: ['R', 'G', 'B', 'A'].slice(0, types.length),
  types,
});
const wordOf = (plane: Plane, i: number) =>
  plane instanceof Uint16Array
    ? floatBitsOfHalf(plane[i])
    : new Uint32Array(plane.buffer)[plane.byteOffset / 4 + i];
const one = 0x3f800000;

test('every half is placed with the bits of its float', () => {
  const all = Uint16Array.from({ length: 65536 }, (_, i) => i);
  const window = { xMin: 0, yMin: 0, xMax: 255, yMax: 255 };
  const workspace = openWorkspace(runtime);
  const { data } = passPicture(workspace, {
    pass: passOf(['half', 'half', 'half', 'half']),
    planes: [all, all, all, all],
    dataWindow: window,
    displayWindow: window,
    colour: asIs,
  });
  const words = new Uint32Array(data.buffer, data.byteOffset, data.length);
  let wrong = 0;
  for (let i = 0; i < words.length; i++) if (words[i] !== floatBitsOfHalf(i >> 2)) wrong++;
  expect(wrong).toBe(0);
  workspace.clear();
});

test('samples go where they belong, whatever the windows, types and number of channels', () => {
  const box = fc
    .tuple(
      fc.integer({ min: -9, max: 9 }),
      fc.integer({ min: -9, max: 9 }),
      fc.integer({ min: 1, max: 23 }),
      fc.integer({ min: 1, max: 9 }),
    )
    .map(([x, y, w, h]) => ({ xMin: x, yMin: y, xMax: x + w - 1, yMax: y + h - 1 }));
  const types = fc.constantFrom<SampleType[]>(
    ['half'],
    ['float'],
    ['half', 'half', 'half'],
    ['float', 'float', 'float'],
    ['half', 'half', 'half', 'half'],
    ['half', 'half', 'half', 'float'],
    ['float', 'half', 'float', 'half'],
  );
  fc.assert(
    fc.property(
      box,
      box,
      types,
      fc.constantFrom('picture' as const, 'alpha' as const),
      (data, display, t, kind) => {
        const [w, h] = [data.xMax - data.xMin + 1, data.yMax - data.yMin + 1];
        const planes = t.map(
          (type, c): Plane =>
            type === 'half'
              ? Uint16Array.from({ length: w * h }, (_, i) => (i * 331 + c * 77) & 0x7bff)
              : Float32Array.from({ length: w * h }, (_, i) => Math.sin(i + c) * 1e3),
        );
        const workspace = openWorkspace(runtime);
        const picture = passPicture(workspace, {
          pass: passOf(t, kind),
          planes,
          dataWindow: data,
          displayWindow: display,
          colour: asIs,
        });
        const words = new Uint32Array(picture.data.buffer, picture.data.byteOffset, picture.data.length);
        const of = (c: number) =>
          t.length === 1 ? (c < 3 || kind === 'alpha' ? planes[0] : undefined) : planes[c];
        for (let y = display.yMin, o = 0; y <= display.yMax; y++)
          for (let x = display.xMin; x <= display.xMax; x++)
            for (let c = 0; c < 4; c++, o++) {
              const inside = x >= data.xMin && x <= data.xMax && y >= data.yMin && y <= data.yMax;
              const plane = of(c);
              const wanted = !inside ? 0 : plane ? wordOf(plane, (y - data.yMin) * w + x - data.xMin) : one;
              if (words[o] !== wanted)
                throw new Error(`${x}, ${y}, channel ${c}: ${words[o]} in place of ${wanted}`);
            }
        workspace.clear();
      },
    ),
  );
});

test('codes of one or two bytes are decoded, and multiplied by alpha where that is asked, to the bit', () => {
  const type = fc.constantFrom<SampleType>('uint8', 'uint16');
  const encoding = fc.constantFrom(...(Object.keys(encodings) as Encoding[]));
  const count = fc.integer({ min: 1, max: 4 });
  fc.assert(
    fc.property(
      type,
      encoding,
      count,
      fc.boolean(),
      fc.boolean(),
      fc.boolean(),
      (t, code, n, straight, grey, isAlpha) => {
        const [w, h] = [17, 5];
        const channels = n <= 2 && grey ? ['Y', 'A'].slice(0, n) : ['R', 'G', 'B', 'A'].slice(0, n);
        const most = t === 'uint8' ? 255 : 65535;
        const planes = channels.map((_, c): Plane => {
          const plane = t === 'uint8' ? new Uint8Array(w * h) : new Uint16Array(w * h);
          for (let i = 0; i < plane.length; i++) plane[i] = (i * 7919 + c * 104729) % (most + 1);
          return plane;
        });
        const window = { xMin: 0, yMin: 0, xMax: w - 1, yMax: h - 1 };
        const kind = isAlpha && n === 1 ? 'alpha' : 'picture';
        const workspace = openWorkspace(runtime);
        const { data } = passPicture(workspace, {
          pass: {
            ...passOf(
              channels.map(() => t),
              kind,
            ),
            channels,
          },
          planes,
          dataWindow: window,
          displayWindow: window,
          colour: { encoding: code, straight },
        });
        const f = Math.fround;
        const light = (p: Plane, i: number) => f(decodeValue(code, p[i] / most));
        const share = (p: Plane, i: number) => f(p[i] / most);
        const isGrey = channels[0] === 'Y';
        for (let i = 0; i < w * h; i++) {
          const [r, g, b] = isGrey || n === 1 ? [0, 0, 0] : [0, 1, 2];
          const colour = [r, g, b].map((c) => (c < n ? light(planes[c], i) : 0));
          const alpha =
            isGrey && n === 2
              ? share(planes[1], i)
              : n === 4
                ? share(planes[3], i)
                : kind === 'alpha' && !isGrey
                  ? light(planes[0], i)
                  : 1;
          const wanted = [...colour.map((v) => (straight ? f(v * alpha) : v)), alpha];
          for (let c = 0; c < 4; c++)
            if (data[i * 4 + c] !== wanted[c]) throw new Error(`pixel ${i}, channel ${c}`);
        }
        workspace.clear();
      },
    ),
  );
});
