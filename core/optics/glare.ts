import { arctan, exp } from '../math/elementary';

/** How the eye scatters light: luminance per illuminance by the angle from its source, in 1/sr, angles in degrees. */
export const glareModels = {
  cie: 'Eye by age (CIE 135)',
  cie146: 'Disability glare by age (CIE 146)',
  photopic: 'Photopic eye (day)',
  mesopic: 'Mesopic eye (dusk)',
  scotopic: 'Scotopic eye (night)',
} as const;
export type GlareModel = keyof typeof glareModels;

const root = Math.sqrt;
/** Products, so that every host gives the same bits. */
const square = (x: number) => x * x;
const cube = (x: number) => x * x * x;

/**
 * The total glare function of Vos & van den Berg, CIE 135/1 (1999), for an observer of `age` years and an eye of pigment `p` (0 dark, 0.5
 * brown, 1 light blue). Typed from memory of the published formula; its integral over the hemisphere, and the CIE's own simpler equations,
 * are the checks.
 */
export function totalGlare(theta: number, age: number, p: number): number {
  const old = square(square(age / 70));
  const bell = (width: number) => 1 + square(theta / width);
  const core = 9.2e6 / (bell(0.0046) * root(bell(0.0046))) + 1.5e5 / (bell(0.045) * root(bell(0.045)));
  const wide = 400 / bell(0.1) + 3e-8 * theta * theta;
  const pigment = 1300 / (bell(0.1) * root(bell(0.1))) + 0.8 / root(bell(0.1));
  return (1 - 0.08 * old) * core + (1 + 1.6 * old) * (wide + p * pigment) + 2.5e-3 * p;
}

/**
 * The general disability glare equation of CIE 146:2002, *CIE equations for disability glare*: 10/θ³ + (5/θ² + 0.1 p/θ)(1 + (age/62.5)⁴) + 0.0025 p
 * from 0.1° to 100°; nearer to the source it holds. Typed from memory of the published formula.
 */
export function disabilityGlare(theta: number, age: number, p: number): number {
  const t = Math.max(0.1, theta);
  return 10 / cube(t) + (5 / square(t) + (0.1 * p) / t) * (1 + square(square(age / 62.5))) + 2.5e-3 * p;
}

/** Shares of the four parts by the eye's adaptation. */
const mixes = {
  photopic: [0.384, 0.478, 0.138, 0],
  mesopic: [0.368, 0.478, 0.138, 0.016],
  scotopic: [0.282, 0.478, 0.207, 0.033],
} as const;

/** Wavelengths in nm at which the lens's halo is computed for red, green and blue, by Spencer and others (from memory of the paper). */
export const haloWaves = [611, 549, 467] as const;
/** Wavelength in nm for which the halo of the lens is published. */
const haloWave = 568;

/**
 * The point spread of Spencer, Shirley, Zimmerman & Greenberg 1995, *Physically-based glare effects for digital images*: a Gaussian core, two
 * powers, and at dusk and by night the halo of the lens, mixed for three states of adaptation. The halo is a diffraction by the lens's fibres: its
 * radius, 3° at 568 nm, goes with the wavelength `wave` in nm, and its height against it. Typed from memory of the paper.
 */
export function pointSpread(theta: number, model: keyof typeof mixes, wave: number = haloWave): number {
  const f0 = 2.61e6 * exp(-square(theta / 0.02));
  const f1 = 20.91 / cube(theta + 0.02);
  const f2 = 72.37 / square(theta + 0.02);
  const f3 = 436.9 * (haloWave / wave) * exp(-19.75 * square(theta - (3 * wave) / haloWave));
  const [a, b, c, d] = mixes[model];
  return a * f0 + b * f1 + c * f2 + d * f3;
}

/** Laws of red, green and blue where they differ, else one: with the halo of the lens they do. */
export function glareLaws(glare: Glare): ((theta: number) => number)[] {
  const { model } = glare;
  if (model !== 'mesopic' && model !== 'scotopic') return [(theta) => glareAt(theta, glare)];
  return haloWaves.map((wave) => (theta: number) => pointSpread(theta, model, wave));
}

export type Glare = { model: GlareModel; age: number; eyePigmentation: number };

export const glareAt = (theta: number, { model, age, eyePigmentation: pigment }: Glare): number =>
  model === 'cie'
    ? totalGlare(theta, age, pigment)
    : model === 'cie146'
      ? disabilityGlare(theta, age, pigment)
      : pointSpread(theta, model);

const degree = 180 / Math.PI;

/** ∫ over the hemisphere from `from` degrees on, by the midpoint rule on a logarithmic scale. */
export function hemisphere(glare: Glare, from = 1e-5, to = 90): number {
  const n = 4000;
  const [a, b] = [Math.log(from), Math.log(to)];
  let sum = 0;
  for (let i = 0; i < n; i++) {
    const theta = Math.exp(a + ((i + 0.5) / n) * (b - a));
    sum += glareAt(theta, glare) * Math.sin(theta / degree) * (theta / degree);
  }
  return (sum * 2 * Math.PI * (b - a)) / n;
}

/** Close to the middle a function of the distance bends within a pixel: its mean over n · n parts of the one at (x, y). */
function meanOver(x: number, y: number, n: number, of: (distance: number) => number): number {
  let sum = 0;
  for (let j = 0; j < n; j++) {
    for (let i = 0; i < n; i++) {
      const [u, v] = [x + (i + 0.5) / n - 0.5, y + (j + 0.5) / n - 0.5];
      sum += of(root(u * u + v * v));
    }
  }
  return sum / (n * n);
}

/**
 * What a pixel's light puts onto those around it, and onto the rest of itself past `core` pixels from its middle: a plane of 2 radius + 1
 * pixels a side for each of `laws` (of light by the angle in degrees); their mean has the sum 1; the edge is faded so that it is not seen.
 * `perPixel` is the tangent of a pixel's angle at the middle of the picture.
 */
export function glarePlanes(
  laws: readonly ((theta: number) => number)[],
  radius: number,
  perPixel: number,
  core: number,
): Float32Array[] {
  const planes = laws.map((law) => glarePlane(law, radius, perPixel, core));
  let all = 0;
  for (const plane of planes) for (const value of plane) all += value;
  for (const plane of planes) for (let i = 0; i < plane.length; i++) plane[i] /= all / planes.length;
  return planes;
}

function glarePlane(law: (theta: number) => number, radius: number, perPixel: number, core: number) {
  const side = 2 * radius + 1;
  const plane = new Float32Array(side * side);
  const at = (r: number) => {
    const tangent = r * perPixel;
    const cos = 1 / root(1 + tangent * tangent);
    // A pixel further out is seen under less of an angle.
    return law(arctan(tangent) * degree) * cos * cos * cos;
  };
  // By the distance in eighths of a pixel: it is the same all around.
  const byDistance = Float64Array.from({ length: radius * 8 + 16 }, (_, i) => at(i / 8));
  for (let y = -radius; y <= radius; y++) {
    for (let x = -radius; x <= radius; x++) {
      const r = root(x * x + y * y);
      if (r >= radius) continue;
      const place = r * 8;
      const i = Math.floor(place);
      const f = place - i;
      let value = byDistance[i] + (byDistance[i + 1] - byDistance[i]) * f;
      if (r < 3) value = meanOver(x, y, r < 0.5 ? 48 : 12, (d) => (d < core ? 0 : at(d)));
      const t = r / radius;
      value *= t < 0.7 ? 1 : 1 - square((t - 0.7) / 0.3) * (3 - 2 * ((t - 0.7) / 0.3));
      plane[(y + radius) * side + x + radius] = value;
    }
  }
  return plane;
}
