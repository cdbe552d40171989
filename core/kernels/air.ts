import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { gaussian, gaussianPlane } from './gaussian';
import { planeLike } from './plane';
import { like, onPixels } from './point';
import { frameOf, type Workspace } from './workspace';

const rowPiece = 16;

/**
 * How mist thickens from near (x = 0) to far (x = 1): x, x²(3 − 2x), x², 1 − (1 − x)²; the last, which does not end there, is the law
 * of Beer and Lambert, 1 − e^(−β(z − near)).
 */
export const mistCurves = {
  linear: 'Linear',
  smooth: 'Smoothstep',
  squared: 'Quadratic, late',
  early: 'Quadratic, early',
  exponential: 'Exponential (visibility)',
} as const;
export type MistCurve = keyof typeof mistCurves;

/** A place between near (0) and far (1), how much of the density counts there, and the mist's colour. */
export type MistStop = { at: number; density: number; colour: Rgb };

export type Mist = {
  near: number;
  far: number;
  curve: MistCurve;
  /** Extinction in 1/scene unit, for the exponential curve. */
  beta: number;
  turned: boolean;
  /** In the order of their places; before the first and after the last they hold. */
  stops: readonly MistStop[];
  /** The most that it ever covers, and what it covers where depth is endless or not a number. */
  cap: number;
  sky: number;
  amount: number;
  /** Thinner above `base` by e^(−height/fall); `up` is the axis of height. */
  height?: { positions: Picture; base: number; fall: number; up: 0 | 1 | 2 };
  /** Thinned by up to `share` by gradient noise whose cells are `size` pixels wide, moved by pixels and through its third dimension. */
  noise?: { share: number; size: number; moved: readonly [number, number]; phase: number; seed: number };
  /** Another picture in place of the stops' colours. */
  colour?: Picture;
};

const places = 256;

/** Densities and colours of stops at each 1/256 of the way from near to far, straight between them. */
function stopTable(stops: readonly MistStop[]): number[] {
  const sorted = [...stops].sort((a, b) => a.at - b.at);
  return Array.from({ length: places + 1 }, (_, i) => {
    const x = i / places;
    const next = sorted.findIndex((s) => s.at >= x);
    const b = sorted[next < 0 ? sorted.length - 1 : next];
    const a = next > 0 ? sorted[next - 1] : b;
    const t = next > 0 && b.at > a.at ? (x - a.at) / (b.at - a.at) : 0;
    const between = (u: number, v: number) => u + (v - u) * t;
    return [
      ...([0, 1, 2] as const).map((c) => between(a.colour[c], b.colour[c])),
      between(a.density, b.density),
    ];
  }).flat();
}

/** Mist: its density f as a plane, and the source of its colour. All of it belongs to the workspace. */
export type MistDensity = {
  density: Picture;
  /** Normalised distance of each pixel, 0 at near and 1 at far, if the stops' colours differ. */
  places?: Picture;
  stops: number;
  colour?: Picture;
};

/** The density of mist for a depth in the first channel of `depth`. Density 0 to 1. */
export function mistDensity(workspace: Workspace, depth: Picture, m: Mist): MistDensity {
  const { width } = depth;
  const density = planeLike(workspace, depth);
  const frame = frameOf(workspace, depth);
  const { noise, height: tall } = m;
  const [first] = m.stops;
  const oneColour =
    m.colour !== undefined || m.stops.every((s) => s.colour.every((c, i) => c === first.colour[i]));
  const places = oneColour ? undefined : planeLike(workspace, depth);
  const stops = workspace.floats(stopTable(m.stops));
  const options = workspace.floats([
    m.near,
    1 / Math.max(1e-6, m.far - m.near),
    m.beta,
    m.cap,
    m.sky,
    m.amount,
    tall?.base ?? 0,
    tall ? 1 / Math.max(1e-6, tall.fall) : 0,
    noise?.share ?? 0,
    noise ? 1 / noise.size : 0,
    frame.x + 0.5 - (noise?.moved[0] ?? 0),
    frame.y + 0.5 - (noise?.moved[1] ?? 0),
    noise?.phase ?? 0,
  ]);
  onPixels(workspace, 'mistDensity', density, {
    places: places?.at ?? 0,
    depth: depth.at,
    stops: m.stops.every((s) => s.density === 1) ? 0 : stops,
    positions: tall?.positions.at ?? 0,
    width,
    curve: Object.keys(mistCurves).indexOf(m.curve),
    invert: m.turned ? 1 : 0,
    up: tall?.up ?? 0,
    options,
    seed: noise?.seed ?? 0,
  });
  workspace.drop(options);
  return { density, places, stops, colour: m.colour };
}

/**
 * A picture in mist: c(1 − f) + mist·f·α; alpha stays, and every bit where f is 0. Depth is never filtered: where neighbours' densities
 * differ by more than 0.03 in one step, a pixel is split into the two things that meet in it, each under its own mist. Their shares are
 * `coverage` (of the nearer), or what the colours of the pure pixels within two pixels tell. A thing that is nowhere pure, thinner
 * than about two pixels, is taken by its own depth.
 */
export function layMist(
  workspace: Workspace,
  picture: Picture,
  { density, places, stops, colour }: MistDensity,
  { coverage, turned }: { coverage?: Picture; turned: boolean },
): Picture {
  const { width, height } = picture;
  const out = workspace.picture(width, height);
  const edges = workspace.bytes(width * height);
  workspace.runtime.run('mistEdges', height, rowPiece, { out: edges, density: density.at, width, height });
  workspace.runtime.run('layMist', height, rowPiece, {
    out: out.at,
    edges,
    picture: picture.at,
    density: density.at,
    places: places?.at ?? 0,
    stops,
    colour: colour?.at ?? 0,
    coverage: coverage?.at ?? 0,
    width,
    height,
    invert: turned ? 1 : 0,
  });
  workspace.drop(edges);
  return out;
}

/** A picture times a plane, in all four channels; what is not finite counts as nothing. */
export const timesPlane = (workspace: Workspace, picture: Picture, plane: Picture): Picture =>
  onPixels(workspace, 'timesPlane', like(workspace, picture), { from: picture.at, plane: plane.at });

/**
 * A picture softer the denser the mist: blurred by `sigma`·f pixels, by light weighted with f, so that what is near neither blurs nor
 * bleeds into what is far. Where f is 0 no bit changes.
 */
export function softenInMist(
  workspace: Workspace,
  picture: Picture,
  density: Picture,
  sigma: number,
): Picture {
  const weighted = timesPlane(workspace, picture, density);
  const blurs = [sigma / 4, sigma / 2, sigma].flatMap((s) => [
    gaussian(workspace, weighted, s),
    gaussianPlane(workspace, density, s),
  ]);
  const table = workspace.ints(blurs.map((p) => p.at));
  const out = onPixels(workspace, 'softened', like(workspace, picture), {
    from: picture.at,
    density: density.at,
    blurs: table,
  });
  for (const taken of [weighted, table, ...blurs]) workspace.drop(taken);
  return out;
}

/** A pass of light, its gains by channel, and the matte inside which alone they hold. */
export type MixedPass = { picture: Picture; gains: Rgb; within?: Picture };

/**
 * The sum of passes of light, each times its gains, with the alpha of `beauty` or, without one, of the first. As `residual` what the
 * beauty has beyond that sum.
 */
export function mixPasses(
  workspace: Workspace,
  passes: readonly MixedPass[],
  beauty: Picture | undefined,
  residual: boolean,
): Picture {
  const [{ picture: first }] = passes;
  const table = workspace.bytes(passes.length * 20 + 16);
  const words = new DataView(workspace.runtime.arena.memory.buffer, table);
  passes.forEach(({ picture, gains, within }, i) => {
    words.setUint32(i * 20, picture.at, true);
    words.setUint32(i * 20 + 4, within?.at ?? 0, true);
    gains.forEach((g, c) => void words.setFloat32(i * 20 + 8 + c * 4, g, true));
  });
  const alpha = beauty ?? first;
  const from = residual && beauty ? beauty.at : 0;
  const out = onPixels(workspace, 'mixPasses', like(workspace, first), {
    passes: table,
    count: passes.length,
    alpha: alpha.at,
    beauty: from,
  });
  workspace.drop(table);
  return out;
}
