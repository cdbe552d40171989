import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { plainColour } from '../../tests/plain/colour';
import { pictureOf, runtime, workspace } from '../../tests/runtime';
import { runColour } from '../kernels/colour';
import { stepSpec } from '../steps/registry';
import { defaultsOf } from '../steps/shared/define';
import { type Cdl, cdlKinds, readCdl, writeCdl } from './cdl';
import { type Cube, keptCube, packCube, readCube, unpackCube, writeCube } from './cube';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

describe('colour decision lists', () => {
  const n = (min: number, max: number) =>
    fc.double({ min, max, noNaN: true }).map((v) => Number(v.toFixed(6)) + 0);
  const cdl: fc.Arbitrary<Cdl> = fc.record({
    id: fc.stringMatching(/^[\w-]{1,12}$/),
    slope: fc.tuple(n(0, 4), n(0, 4), n(0, 4)),
    offset: fc.tuple(n(-1, 1), n(-1, 1), n(-1, 1)),
    power: fc.tuple(n(0.1, 4), n(0.1, 4), n(0.1, 4)),
    saturation: n(0, 4),
  });
  test.each(Object.keys(cdlKinds) as (keyof typeof cdlKinds)[])(
    '.%s is read back as it was written',
    (kind) => {
      fc.assert(
        fc.property(fc.array(cdl, { minLength: 1, maxLength: 4 }), (all) => {
          expect(readCdl(writeCdl(kind, all))).toEqual(kind === 'cc' ? all.slice(0, 1) : all);
        }),
      );
    },
  );
  test('the example of the ASC’s document (from memory), with a prefix, comments and what is left out', () => {
    const text = `<?xml version="1.0"?>
      <ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01">
        <!-- <ColorCorrection id="gone"></ColorCorrection> -->
        <ColorCorrection id="cc03345"><SOPNode>
          <Slope>1.2 1.3 1.4</Slope><Offset>0.3 0 0</Offset><Power>1.0 1.0 1.0</Power>
        </SOPNode></ColorCorrection>
        <a:ColorCorrection id="two"><a:SatNode><a:Saturation>0.7</a:Saturation></a:SatNode></a:ColorCorrection>
      </ColorCorrectionCollection>`;
    expect(readCdl(text)).toEqual([
      { id: 'cc03345', slope: [1.2, 1.3, 1.4], offset: [0.3, 0, 0], power: [1, 1, 1], saturation: 1 },
      { id: 'two', slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.7 },
    ]);
  });
  test.each([
    ['', 'There is no ColorCorrection'],
    ['<ColorCorrection id="a"><Slope>1 2</Slope></ColorCorrection>', 'Slope of a is “1 2”'],
    ['<ColorCorrection id="a"><Slope>-1 2 3</Slope></ColorCorrection>', 'below 0'],
    ['<ColorCorrection id="a"><Power>1 0 1</Power></ColorCorrection>', 'not above 0'],
    ['<ColorCorrection id="a"><Saturation>much</Saturation></ColorCorrection>', 'Saturation of a'],
  ])('%s is refused in words', (text, words) => {
    expect(() => readCdl(text)).toThrow(words);
  });
});

const cubeOf = (size: number, of: (r: number, g: number, b: number) => readonly number[]): Cube => {
  const values: number[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) values.push(...of(r / (size - 1), g / (size - 1), b / (size - 1)));
  return {
    title: 'Made up',
    dimensions: 3,
    size,
    low: [0, 0, 0],
    high: [1, 1, 1],
    values: Float32Array.from(values),
  };
};
const warm = cubeOf(9, (r, g, b) => [r ** 0.8, g * 0.9 + 0.05 * r * b, b * b]);

describe('lookup tables', () => {
  test('are read back as they were written, of one and of three dimensions', () => {
    const one: Cube = {
      title: 'Gamma',
      dimensions: 1,
      size: 5,
      low: [0, -1, 0],
      high: [2, 1, 1],
      values: Float32Array.from({ length: 15 }, (_, i) => i / 7),
    };
    for (const cube of [one, warm]) {
      const back = readCube(writeCube(cube, ['a comment']));
      expect({ ...back, values: 0 }).toEqual({ ...cube, values: 0 });
      back.values.forEach((v, i) => {
        expect(v).toBeCloseTo(cube.values[i], 6);
      });
      const packed = unpackCube(packCube(cube))!;
      expect({ ...packed, values: 0 }).toEqual({ ...cube, values: 0 });
      packed.values.forEach((v, i) => {
        expect(Math.abs(v - cube.values[i])).toBeLessThan(3e-5);
      });
    }
  });
  test.each([
    ['hello', 'Line 1: three numbers are expected'],
    ['0 0 0', 'before its size is said'],
    ['LUT_3D_SIZE 1', 'a size from 2 to 129'],
    ['LUT_1D_SIZE 2\n0 0 0', 'It has 1 of 2 lines: it is cut off.'],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2', 'more than the 2 lines'],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 0 1 1\n0 0 0\n1 1 1', 'no width'],
    ['# nothing', 'no .cube file'],
  ])('%j is refused in words', (text, words) => {
    expect(() => readCube(text)).toThrow(words);
  });
  test('what is no packed table is none', () => {
    for (const text of ['', 'x', '3 9 0 0 0 1 1 1 0 1\nT\n!!', '3 2 0 0 0 1 1 1 0 1\nT\nAAAA'])
      expect(unpackCube(text)).toBeUndefined();
  });
  test('a cube of more than 33 a side is kept with 33, nowhere far off', () => {
    const large = cubeOf(65, (r, g, b) => [r * r, (g + b) / 2, Math.sqrt(b)]);
    const small = keptCube(large);
    expect(small.size).toBe(33);
    const at = ((16 * 33 + 8) * 33 + 24) * 3;
    expect(small.values[at]).toBeCloseTo((24 / 32) ** 2, 3);
    expect(small.values[at + 1]).toBeCloseTo((8 / 32 + 16 / 32) / 2, 5);
  });
  test('the step goes through tetrahedra, as in double precision, in the space that is told', () => {
    const spec = stepSpec('lookup-table')!;
    const table = packCube(warm);
    for (const input of ['srgb', 'linear', 'stops'])
      fc.assert(
        fc.property(
          fc.array(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -0.2, max: 1.5, noNaN: true }))), {
            minLength: 1,
            maxLength: 8,
          }),
          (colours) => {
            const program = spec.program!({
              ...defaultsOf(spec.values),
              table,
              input,
              output: input,
            } as never);
            const picture = pictureOf(colours.length, 1, (i) => ((i & 3) === 3 ? 1 : colours[i >> 2][i & 3]));
            const out = runColour(workspace, picture, program);
            colours.forEach((c, i) => {
              const wanted = plainColour(program, [...c] as [number, number, number]);
              wanted.forEach((w, k) => {
                expect(Math.abs(out.data[i * 4 + k] - w)).toBeLessThan(3e-4 * Math.max(1, Math.abs(w)));
              });
            });
            workspace.clear();
          },
        ),
        { numRuns: 60 },
      );
  });
  test('an identity in any space changes nothing inside its domain', () => {
    const spec = stepSpec('lookup-table')!;
    const table = packCube(cubeOf(17, (r, g, b) => [r, g, b]));
    for (const space of ['srgb', 'linear', 'stops']) {
      const program = spec.program!({
        ...defaultsOf(spec.values),
        table,
        input: space,
        output: space,
      } as never);
      const picture = pictureOf(50, 1, (i) => ((i & 3) === 3 ? 1 : 0.02 + ((i * 37) % 97) / 100));
      const out = runColour(workspace, picture, program);
      for (let i = 0; i < 200; i++) expect(Math.abs(out.data[i] - picture.data[i])).toBeLessThan(3e-4);
      workspace.clear();
    }
    expect(spec.neutral(defaultsOf(spec.values) as never)).toBe(true);
  });
});
