import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import { planOf } from '../../evaluate/plan/plan';
import { addStep, newFinish } from '../../finish/edits';
import { addGuide, follow, measuredGuide } from '../../finish/guide-edits';
import { setValues } from '../../finish/value-edits';
import { cut } from '../../kernels/cut';
import { forgetSpectra } from '../../kernels/fourier';
import { gaussianTaps } from '../../kernels/gaussian';
import { openWorkspace } from '../../kernels/workspace';
import { blurKernel } from '../../optics/blur-shape';
import { circleOfConfusion } from '../../optics/confusion';
import { distortedBy, fillScale, undistorting } from '../../optics/distortion';
import type { Picture } from '../../picture/picture';
import { grown, type Region } from '../../picture/region';
import { deviationAfter } from '../finish/grain';
import { stepSpec } from '../registry';
import { defaultsOf, type Values } from '../shared/define';
import { fringeSamples } from './fringe';

/** What lens, shutter and film do, against the formulas of optics and against what light must keep. */
afterEach(() => {
  workspace.clear();
  forgetSpectra(runtime);
  expect(runtime.arena.used).toBe(0);
});

const run = (
  id: string,
  picture: Picture,
  values: Values,
  slots: Record<string, Picture> = {},
  frame = 0,
) => {
  const spec = stepSpec(id)!;
  return spec.run(workspace, picture, slots, { ...defaultsOf(spec.values), ...values } as never, [], frame);
};
const [width, height] = [97, 61];
const flat = (value: number, w = width, h = height, alpha = 1) =>
  pictureOf(w, h, (i) => ((i & 3) === 3 ? alpha : value * alpha));
/** A point of light on black. */
const dot = (x: number, y: number, light = 1, w = width, h = height) =>
  pictureOf(w, h, (i) => ((i & 3) === 3 ? 1 : i >> 2 === y * w + x ? light : 0));
const at = (p: Picture, x: number, y: number, c = 0) => p.data[(y * p.width + x) * 4 + c];
const sum = (p: Picture, c = 0) => {
  let all = 0;
  for (let i = c; i < p.data.length; i += 4) all += p.data[i];
  return all;
};

describe('a uniform picture stays uniform', () => {
  test.each([
    ['blur', { radius: 7, edge: 'continued' }],
    ['blur', { radius: 7, edge: 'mirrored' }],
    ['blur', { radius: 3, apart: true, radiusY: 30, edge: 'mirrored' }],
    ['sharpen', { radius: 5, amount: 3 }],
    ['motion-smear', { length: 31, angle: 33 }],
    ['fringe', { shift: 11 }],
    ['defocus', { radius: 3 }],
    ['defocus', { radius: 17.4, blades: 5, rotate: 20, rim: 0.6 }],
  ] as [string, Values][])('%s %o', (id, values) => {
    for (const alpha of [1, 0.4]) {
      const out = run(id, flat(0.7, width, height, alpha), values);
      for (let i = 0; i < out.data.length; i++)
        expect(Math.abs(out.data[i] - ((i & 3) === 3 ? alpha : 0.7 * alpha))).toBeLessThan(1e-3);
      workspace.clear();
    }
  });
});

describe('Blur', () => {
  test('along one axis alone is a row of the sampled Gaussian', () => {
    const out = run('blur', dot(48, 30), { radius: 3, apart: true, radiusY: 0, edge: 'black' });
    const taps = gaussianTaps(3);
    for (let d = 0; d < 12; d++) expect(at(out, 48 + d, 30)).toBeCloseTo(taps[d], 6);
    expect(at(out, 48, 31)).toBe(0);
  });
  test('keeps all light where the border is a mirror, wherever a point lies', () => {
    fc.assert(
      fc.property(
        fc.nat(width - 1),
        fc.nat(height - 1),
        fc.double({ min: 0.5, max: 30, noNaN: true }),
        (x, y, radius) => {
          const out = run('blur', dot(x, y), { radius, edge: 'mirrored' });
          const all = sum(out);
          workspace.clear();
          // A recursive Gaussian is off by 6e-4 of its peak at every pixel.
          expect(Math.abs(all - 1)).toBeLessThan(4e-3);
        },
      ),
      { numRuns: 25 },
    );
  });
});

describe('Sharpen', () => {
  /** A step of light from `a` to `b` in the middle. */
  const edge = (a: number, b: number) =>
    pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : (i >> 2) % width < 48 ? a : b));
  test('raises an edge, no further than the halo limit allows, and leaves what lies below the threshold', () => {
    const peak = (values: Values) => {
      const out = run('sharpen', edge(0.2, 0.8), { radius: 2, amount: 2, ...values });
      let most = 0;
      for (let x = 0; x < width; x++) most = Math.max(most, at(out, x, 30));
      workspace.clear();
      return most;
    };
    expect(peak({ limit: 0 })).toBeGreaterThan(1);
    // What is around is about 0.6 on the bright side of the edge: a tenth of that may be added.
    expect(peak({ limit: 0.1 })).toBeLessThan(0.8 + 0.1 * 0.81);
    const small = run('sharpen', edge(0.5, 0.52), { radius: 2, amount: 4, threshold: 0.02 });
    for (let x = 0; x < width; x++) expect(at(small, x, 30)).toBe(Math.fround(x < 48 ? 0.5 : 0.52));
  });
  test('is c + amount · (c − blurred): one share for all channels', () => {
    const p = pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : noise(3, 2)(i >> 6)));
    const soft = run('blur', p, { radius: 1.5 });
    const out = run('sharpen', p, { radius: 1.5, amount: 0.8, limit: 0 });
    for (let i = 0; i < out.data.length; i += 97)
      if ((i & 3) !== 3) expect(out.data[i]).toBeCloseTo(p.data[i] + 0.8 * (p.data[i] - soft.data[i]), 4);
  });
});

describe('in a part of the frame', () => {
  test.each([12, 30])('a blur of σ %d is as in the whole, beside the brightest light', (radius) => {
    const spec = stepSpec('blur')!;
    const values = { ...defaultsOf(spec.values), radius } as never;
    const [w, h] = [700, 320];
    // Bright to the left of the part, dark in it.
    const picture = pictureOf(w, h, (i) => ((i & 3) === 3 ? 1 : (i >> 2) % w < 380 ? 1 : 0));
    const wanted: Region = { x: 384, y: 128, width: 64, height: 64, of: { width: w, height: h } };
    for (const edge of [380, 330, 300]) {
      for (let i = 0; i < picture.data.length; i++)
        if ((i & 3) !== 3) picture.data[i] = (i >> 2) % w < edge ? 1 : 0;
      const whole = cut(workspace, spec.run(workspace, picture, {}, values, [], 1), wanted);
      const region = grown(wanted, spec.reach(values))!;
      const partial = openWorkspace(runtime, region);
      const part = cut(
        workspace,
        spec.run(partial, cut(partial, picture, region), {}, values, [], 1),
        wanted,
        region,
      );
      let worst = 0;
      for (let i = 0; i < part.data.length; i++)
        worst = Math.max(worst, Math.abs(part.data[i] - whole.data[i]));
      partial.clear();
      expect(worst).toBeLessThan(2e-5);
    }
  });
});

describe('Defocus', () => {
  test('an aperture has the area of a disc of its radius, and sum 1', () => {
    for (const radius of [1, 2.7, 9, 20.3])
      for (const shape of [
        { blades: 0, rotate: 0, curvature: 0, rim: 0 },
        { blades: 6, rotate: 11, curvature: 0, rim: 0 },
        { blades: 5, rotate: 0, curvature: 0.5, rim: 0 },
      ]) {
        const { weights } = blurKernel(shape, radius);
        const most = Math.max(...weights);
        expect(weights.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 4);
        // As many whole pixels of the brightest as the area has.
        expect(1 / most / (Math.PI * radius * radius)).toBeCloseTo(1, radius < 2 ? 0 : 1);
      }
  });
  test('a light becomes a disc of its radius with all of its light, even inside and nothing outside', () => {
    for (const radius of [2.5, 12]) {
      const out = run('defocus', dot(48, 30, 500), { radius });
      expect(sum(out)).toBeCloseTo(500, 0);
      // A disc whose pixels together are as wide as it is: each by itself adds 1/12 to the variance r²/4.
      const even = 500 / (Math.PI * (radius * radius - 1 / 3));
      expect(Math.abs(at(out, 48, 30) / even - 1)).toBeLessThan(0.03);
      expect(Math.abs(at(out, 48 + Math.floor(radius) - 1, 30) / even - 1)).toBeLessThan(0.03);
      expect(Math.abs(at(out, 48 + Math.ceil(radius) + 1, 30))).toBeLessThan(1e-3);
      workspace.clear();
    }
  });
  test('a rim is brighter than the middle, blades have straight edges', () => {
    const rim = run('defocus', dot(48, 30, 500), { radius: 14, rim: 1 });
    expect(at(rim, 60, 30) / at(rim, 48, 30)).toBeGreaterThan(1.8);
    const { side, weights } = blurKernel({ blades: 4, rotate: 0, curvature: 0, rim: 0 }, 10);
    // A square of the same area has sides of √(100 π): its corners lie out at half of its diagonal, its edges nearer.
    const middle = side >> 1;
    const reach = (dx: number, dy: number) => {
      let n = 0;
      while (weights[(middle + n * dy) * side + middle + n * dx] > 0) n++;
      return n;
    };
    const [straight, corner] = [reach(1, 1), reach(1, 0)];
    expect(Math.max(straight * Math.SQRT2, corner) / Math.min(straight * Math.SQRT2, corner)).toBeGreaterThan(
      1.25,
    );
  });
  test('the circle of confusion: focused on the hyperfocal distance, infinity has the one that is allowed (S. F. Ray, Applied Photographic Optics)', () => {
    // f = 50 mm, N = 8, c = 0.03 mm: H = f²/(N c) + f = 10467 mm; from half of it on all is within c.
    const [f, n, c] = [50, 8, 0.03];
    const hyperfocal = (f * f) / (n * c) + f;
    expect(hyperfocal).toBeCloseTo(10466.7, 1);
    expect(circleOfConfusion(1e12, hyperfocal, f, n)).toBeCloseTo(c, 6);
    expect(circleOfConfusion(hyperfocal / 2, hyperfocal, f, n)).toBeCloseTo(c, 6);
    // 50 mm at f/2.8 on 3 m: at 6 m c = (3000/6000) · 2500/(2.8 · 2950) = 0.1513 mm.
    expect(circleOfConfusion(6000, 3000, 50, 2.8)).toBeCloseTo(0.1513, 4);
  });
  const lens = { by: 'lens', focus: 10, focalLength: 85, fNumber: 1.4, sensorWidth: 6, most: 12 };
  const depthOf = (of: (x: number) => number) =>
    pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : of((i >> 2) % width)));
  test('the far does not bleed over what is in focus, and goes on behind its edge', () => {
    // In focus and black on the left, far and bright on the right.
    const picture = pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : (i >> 2) % width < 48 ? 0 : 5));
    const out = run('defocus', picture, lens, { depth: depthOf((x) => (x < 48 ? 10 : 1000)) });
    for (let x = 0; x < 48; x++) expect(at(out, x, 30)).toBe(0);
    // Right beside the edge the far is as bright as further away.
    for (let x = 48; x < 80; x++) expect(Math.abs(at(out, x, 30) - 5)).toBeLessThan(0.15);
    expect(at(out, 60, 30, 3)).toBe(1);
  });
  test('the near spreads over what is in focus', () => {
    const picture = pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : (i >> 2) % width < 48 ? 5 : 0));
    const out = run('defocus', picture, lens, { depth: depthOf((x) => (x < 48 ? 4 : 10)) });
    expect(at(out, 50, 30)).toBeGreaterThan(0.5);
    expect(at(out, 52, 30)).toBeLessThan(at(out, 50, 30));
    expect(at(out, 75, 30)).toBe(0);
  });
  test('a far light becomes a disc of the radius that the thin lens says', () => {
    // 50 mm at f/2.8 on 3 m: at 6 m 0.1513 mm across, on a sensor of 1 mm 97 pixels wide a radius of 7.34 pixels.
    const far = { ...lens, focus: 3, focalLength: 50, fNumber: 2.8, sensorWidth: 1, most: 40 };
    const out = run('defocus', dot(48, 30, 500), far, { depth: depthOf(() => 6) });
    let [all, spread] = [0, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        all += at(out, x, y);
        spread += at(out, x, y) * ((x - 48) ** 2 + (y - 30) ** 2);
      }
    // Of a disc the mean square of the distance from its middle is half of the radius squared.
    expect(Math.abs(Math.sqrt((2 * spread) / all) / ((0.15133 * 97) / 2) - 1)).toBeLessThan(0.08);
  });
  test('sky, endless or not a number, is far; in focus every bit stays; without a depth too', () => {
    const picture = pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : noise(4, 3)(i)));
    const sharp = run('defocus', picture, lens, { depth: depthOf(() => 10) });
    expect(Array.from(sharp.data)).toEqual(Array.from(picture.data));
    const far = run('defocus', picture, lens, { depth: depthOf(() => 1e9) });
    const sky = run('defocus', picture, lens, { depth: depthOf((x) => (x % 2 ? Infinity : Number.NaN)) });
    let off = 0;
    for (let i = 0; i < far.data.length; i++) off = Math.max(off, Math.abs(far.data[i] - sky.data[i]));
    expect(off).toBeLessThan(1e-4);
    expect(Array.from(run('defocus', picture, lens).data)).toEqual(Array.from(picture.data));
  });
});

describe('Motion smear', () => {
  const moving = (vx: number, vy: number, where: (x: number, y: number) => boolean) =>
    pictureOf(width, height, (i) => {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      return where(x, y) ? [vx, vy, 0, 1][i & 3] : 0;
    });
  test('a dot that moves leaves a streak as long as the shutter is open for, with all of its light', () => {
    // 20 pixels a frame, half of it open about the frame: 5 pixels to each side.
    const vectors = moving(20, 0, (x, y) => x === 48 && y === 30);
    const out = run('motion-smear', dot(48, 30, 10), { by: 'vectors' }, { vectors });
    const row = Array.from({ length: width }, (_, x) => at(out, x, 30));
    expect(row.reduce((a, b) => a + b, 0)).toBeCloseTo(10, 0);
    for (let x = 44; x <= 52; x++) expect(Math.abs(row[x] - 1)).toBeLessThan(0.25);
    expect(row[41]).toBeLessThan(0.05);
    expect(row[55]).toBeLessThan(0.05);
    expect(at(out, 48, 31)).toBe(0);
  });
  test('phase shifts when it opens; y counts upwards or downwards', () => {
    const middle = (values: Values) => {
      const vectors = moving(0, 16, (x, y) => x === 48 && y === 30);
      const out = run('motion-smear', dot(48, 30, 10), { by: 'vectors', ...values }, { vectors });
      let [weight, place] = [0, 0];
      for (let y = 0; y < height; y++) {
        weight += at(out, 48, y);
        place += y * at(out, 48, y);
      }
      workspace.clear();
      return place / weight;
    };
    expect(middle({})).toBeCloseTo(30, 0);
    expect(Math.abs(middle({ phase: 0 }) - 26)).toBeLessThan(0.6);
    const again = moving(0, 16, (x, y) => x === 48 && y === 30);
    const out = run(
      'motion-smear',
      dot(48, 30, 10),
      { by: 'vectors', phase: 0, upwards: 'down' },
      { vectors: again },
    );
    expect(at(out, 48, 34)).toBeGreaterThan(0.5);
    expect(at(out, 48, 26)).toBeLessThan(0.01);
  });
  test('a bar that moves is whole in its middle and lets what stands still through at its ends; alpha goes along', () => {
    const inBar = (x: number) => x >= 30 && x < 60;
    const vectors = moving(16, 0, (x) => inBar(x));
    const picture = pictureOf(width, height, (i) => (inBar((i >> 2) % width) ? [2, 2, 2, 1][i & 3] : 0));
    const out = run('motion-smear', picture, { by: 'vectors', shutter: 360, phase: -180 }, { vectors });
    expect(at(out, 45, 30)).toBeCloseTo(2, 2);
    expect(at(out, 45, 30, 3)).toBeCloseTo(1, 2);
    // Half of the time something is at its end.
    expect(Math.abs(at(out, 30, 30, 3) - 0.5)).toBeLessThan(0.12);
    for (let x = 24; x < 66; x++) expect(at(out, x, 30)).toBeCloseTo(2 * at(out, x, 30, 3), 3);
    expect(at(out, 15, 30, 3)).toBe(0);
  });
  test('by angle it is the mean along a line: a dot becomes an even streak', () => {
    const out = run('motion-smear', dot(48, 30, 12), { length: 12, angle: 0 });
    expect(sum(out)).toBeCloseTo(12, 1);
    for (let x = 44; x <= 52; x++) expect(Math.abs(at(out, x, 30) - 1)).toBeLessThan(0.12);
    const up = run('motion-smear', dot(48, 30, 12), { length: 12, angle: 90 });
    expect(at(up, 48, 26)).toBeGreaterThan(0.5);
    expect(at(up, 52, 30)).toBe(0);
  });
});

test('a smear along the path of a guide is as long as the guide moves while the shutter is open', () => {
  const head = { type: 'pass', media: 'hall', pass: '' } as const;
  let doc = addStep('main', 0, 'motion-smear', 'smear').apply(newFinish('f', 'F', head));
  doc = setValues(doc, 'smear', { by: 'path', shutter: 180, phase: -90 }).apply(doc);
  doc = addGuide(doc, 'Globe', { x: -40, y: 0 }, 1).apply(doc);
  const places = [1, 11].map((frame) => ({ frame, x: -40 + 20 * (frame - 1), y: 5 * (frame - 1) }));
  doc = measuredGuide(doc, 'guide', { type: 'middle', strand: 'main', after: 'end' }, places).apply(doc);
  doc = follow(doc, 'smear', { x: 'pathX', y: 'pathY' }, 'guide').apply(doc);
  const values = (frame: number, scale = 1) => {
    const request = { finish: doc, point: { strand: 'main', after: 'end' }, frame, scale };
    const node = planOf(request, () => 'same').nodes.find((n) => n.type === 'step');
    return node?.type === 'step' ? node.values : {};
  };
  // 200 pixels to the right and 50 upwards in ten frames.
  expect(values(6)).toMatchObject({ speedX: expect.closeTo(20), speedY: expect.closeTo(5) });
  expect(values(6, 0.5)).toMatchObject({ speedX: expect.closeTo(10) });
  const out = run('motion-smear', dot(48, 30, 10), values(6));
  let [all, x, y] = [0, 0, 0];
  const lit: number[] = [];
  for (let v = 0; v < height; v++)
    for (let u = 0; u < width; u++) {
      const light = at(out, u, v);
      all += light;
      x += light * u;
      y += light * v;
      if (light > 0.05) lit.push(u);
    }
  expect(all).toBeCloseTo(10, 0);
  expect([x / all, y / all].map(Math.round)).toEqual([48, 30]);
  expect(Math.abs(Math.max(...lit) - Math.min(...lit) - 10)).toBeLessThan(3);
});

describe('Fringe', () => {
  test('white and grey stay neutral; a white dot keeps its light in every channel', () => {
    const out = run('fringe', flat(0.8), { shift: 9 });
    for (let i = 0; i < out.data.length; i++)
      expect(Math.abs(out.data[i] - ((i & 3) === 3 ? 1 : 0.8))).toBeLessThan(1e-5);
    const spread = run('fringe', dot(80, 50, 100), { shift: 1.5, samples: 24 });
    for (const c of [0, 1, 2]) expect(Math.abs(sum(spread, c) / 100 - 1)).toBeLessThan(0.06);
  });
  test.each([3, 4, 5, 12, 33, 64])(
    'of %d wavelengths the centres of red, green and blue lie at 1, 0 and −1',
    (count) => {
      const samples = fringeSamples(count, 0.1);
      for (const [c, wanted] of [1, 0, -1].entries()) {
        const centre = samples.reduce((sum, s) => sum + s.weights[c] * (s.scale - 1), 0) / 0.1;
        expect(centre).toBeCloseTo(wanted, 6);
      }
      // From violet to red without turning back.
      for (const [i, s] of samples.entries())
        if (i > 0) expect(s.scale).toBeGreaterThan(samples[i - 1].scale);
    },
  );
  test('at the corner red lies as far outside as is stated, blue as far inside; in the middle nothing parts', () => {
    const [w, h] = [201, 151];
    const middles = (x: number, y: number, shift: number) => {
      const out = run('fringe', dot(x, y, 100, w, h), { shift, samples: 48 });
      const place = (c: number) => {
        let [all, r] = [0, 0];
        for (let v = 0; v < h; v++)
          for (let u = 0; u < w; u++) {
            const light = at(out, u, v, c);
            all += light;
            r += light * Math.hypot(u - 100, v - 75);
          }
        return r / all;
      };
      const got = [place(0), place(1), place(2)];
      workspace.clear();
      return got;
    };
    const [red, green, blue] = middles(180, 135, 6);
    // 6 pixels at the corner, 126 from the middle; here it is 100 from it.
    const stated = (6 * 100) / (Math.hypot(w, h) / 2);
    expect(Math.abs((red - green) / stated - 1)).toBeLessThan(0.03);
    expect(Math.abs((green - blue) / stated - 1)).toBeLessThan(0.03);
    expect(Math.abs(green - 100)).toBeLessThan(0.1);
    const [r2, , b2] = middles(180, 135, -6);
    expect(r2).toBeLessThan(b2);
    const out = run('fringe', dot(100, 75, 100, w, h), { shift: 9 });
    for (const c of [0, 1, 2]) expect(at(out, 100, 75, c)).toBeCloseTo(100, 2);
  });
});

describe('Distortion', () => {
  test('is Brown’s polynomial, and Newton finds the way back within a hundredth of a pixel', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.12, max: 0.4, noNaN: true }),
        fc.double({ min: -0.05, max: 0.1, noNaN: true }),
        fc.double({ min: -0.02, max: 0.05, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (k1, k2, k3, r) => {
          const k = { k1, k2, k3 };
          expect(distortedBy(k, r)).toBeCloseTo(1 + k1 * r ** 2 + k2 * r ** 4 + k3 * r ** 6, 12);
          const out = r * distortedBy(k, r);
          // In a picture 4000 pixels wide half a diagonal is some 2300.
          expect(Math.abs(out * undistorting(k)(out) - r) * 2300).toBeLessThan(0.01);
        },
      ),
    );
  });
  test('distorted and undistorted a picture is as before, away from the borders; a barrel draws the corners in', () => {
    const picture = pictureOf(200, 140, (i) => {
      const [x, y] = [(i >> 2) % 200, Math.floor((i >> 2) / 200)];
      return (i & 3) === 3 ? 1 : 0.5 + 0.4 * Math.sin(x / 9) * Math.cos(y / 11);
    });
    const bent = run('distortion', picture, { k1: -0.12, k2: 0.02 });
    const back = run('distortion', bent, { k1: -0.12, k2: 0.02, direction: 'undistort' });
    let worst = 0;
    for (let y = 30; y < 110; y++)
      for (let x = 40; x < 160; x++) worst = Math.max(worst, Math.abs(at(back, x, y) - at(picture, x, y)));
    expect(worst).toBeLessThan(0.01);
    expect(at(bent, 0, 0, 3)).toBe(0);
    expect(at(bent, 100, 70, 0)).toBeCloseTo(at(picture, 100, 70), 2);
  });
  test('that fills the frame leaves no pixel empty, however strong, and a cushion as large as it was', () => {
    for (const k1 of [-0.03, -0.12, -0.3])
      for (const direction of ['distort', 'undistort']) {
        const out = run('distortion', flat(0.5), { k1, direction, fill: true });
        const alphas = out.data.filter((_, i) => (i & 3) === 3);
        expect(
          alphas.reduce((a, b) => Math.min(a, b)),
          `${direction} ${k1}`,
        ).toBeCloseTo(1, 4);
      }
    const coefficient = fc.double({ min: -2, max: 2, noNaN: true });
    fc.assert(
      fc.property(
        fc.record({ k1: coefficient, k2: coefficient, k3: coefficient }),
        fc.constantFrom('distort', 'undistort'),
        (k, direction) => {
          const { data } = run('distortion', flat(0.5), { ...k, direction, fill: true });
          for (let i = 3; i < data.length; i += 4)
            if (!(data[i] > 0.999)) throw new Error(`${i}: ${data[i]}`);
        },
      ),
    );
    const half = Math.min(width, height) / Math.hypot(width, height);
    expect(fillScale(undistorting({ k1: 0.1, k2: 0, k3: 0 }), half)).toBe(1);
    // It goes no further than it must: a hundredth less and a border pixel lies outside.
    const factor = undistorting({ k1: -0.12, k2: 0, k3: 0 });
    const scale = fillScale(factor, half);
    expect(factor(1 / scale) / scale).toBeCloseTo(1, 6);
  });
});

describe('Vignette', () => {
  test('is cos⁴ of the angle: a quarter at 45°', () => {
    // A focal length of half the sensor's width: the left and right borders lie at 45°.
    const out = run('vignette', flat(1, 201, 101), { focalLength: 18, sensorWidth: 36 });
    expect(at(out, 100, 50)).toBeCloseTo(1, 6);
    const angle = Math.atan(100 / 100.5);
    expect(at(out, 200, 50)).toBeCloseTo(Math.cos(angle) ** 4, 4);
    expect(Math.cos(Math.PI / 4) ** 4).toBeCloseTo(0.25, 12);
    expect(at(out, 200, 50, 3)).toBe(1);
  });
  test('as a shape it leaves the middle, and darkens the corners by its amount', () => {
    const out = run('vignette', flat(1, 201, 101), {
      by: 'shape',
      size: 1,
      softness: 0.5,
      roundness: 1,
      amount: 0.8,
    });
    expect(at(out, 100, 50)).toBe(1);
    expect(at(out, 0, 0)).toBeLessThan(0.21);
  });
});

describe('Grain', () => {
  const grey = () => flat(0.18, 256, 256);
  const deviations = (p: Picture, c: number) => {
    const values: number[] = [];
    for (let i = c; i < p.data.length; i += 4) values.push(p.data[i] / 0.18 - 1);
    return values;
  };
  const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length;
  test('leaves the mean of the light, and is as strong as is said, at any size and colour', () => {
    for (const size of [0.2, 1.8, 6])
      for (const colour of [0, 0.5, 1]) {
        const values = deviations(run('grain', grey(), { amount: 0.1, size, colour }, {}, 7), 1);
        const m = mean(values);
        // The mean of so many grains of that size is off by some of their deviation over the root of their number.
        expect(Math.abs(m)).toBeLessThan((4 * 0.1 * Math.max(1, size * 1.8)) / 256);
        const deviation = Math.sqrt(mean(values.map((v) => (v - m) ** 2)));
        expect(Math.abs(deviation / 0.1 - 1)).toBeLessThan(0.06);
        workspace.clear();
      }
  });
  test('has the spectrum of a Gaussian: neighbours are alike by exp(−d²/4σ²)', () => {
    const out = run('grain', grey(), { amount: 0.1, size: 4, colour: 0 }, {}, 3);
    const v = deviations(out, 0);
    const at = (x: number, y: number) => v[y * 256 + x];
    const alike = (d: number) => {
      let [all, both] = [0, 0];
      for (let y = 0; y < 256; y++)
        for (let x = 0; x < 256 - d; x++) {
          all += at(x, y) ** 2;
          both += at(x, y) * at(x + d, y);
        }
      return both / all;
    };
    for (const d of [1, 2, 4, 8]) expect(Math.abs(alike(d) - Math.exp(-(d * d) / 16))).toBeLessThan(0.06);
    expect(deviationAfter(2)).toBeCloseTo(1 / (2 * Math.sqrt(Math.PI) * 2), 3);
  });
  test('is new on every frame or held, the same again for the same seed, and of one colour or three', () => {
    const grained = (values: Values, frame: number) =>
      Array.from(run('grain', grey(), values, {}, frame).data);
    const one = grained({}, 4);
    expect(grained({}, 4)).toEqual(one);
    expect(grained({}, 5)).not.toEqual(one);
    expect(grained({ seed: 2 }, 4)).not.toEqual(one);
    expect(grained({ hold: 2 }, 4)).toEqual(grained({ hold: 2 }, 5));
    workspace.clear();
    const even = run('grain', grey(), { colour: 0 }, {}, 1);
    for (let i = 0; i < even.data.length; i += 4096) expect(even.data[i]).toBe(even.data[i + 1]);
  });
  test('is stronger in shadows than in highlights', () => {
    const spread = (light: number) => {
      const out = run('grain', flat(light, 128, 128), { amount: 0.1 }, {}, 2);
      const v = Array.from(out.data).filter((_, i) => (i & 3) === 1);
      const m = mean(v);
      workspace.clear();
      return Math.sqrt(mean(v.map((x) => (x - m) ** 2))) / m;
    };
    expect(spread(0.18 / 16) / spread(0.18)).toBeGreaterThan(1.4);
    expect(spread(0.18 * 16) / spread(0.18)).toBeLessThan(0.5);
  });
});
