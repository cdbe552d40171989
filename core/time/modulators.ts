import { exp, sinTurns } from '../math/elementary';
import { hashRandom } from '../math/hash-random';

/**
 * What moves a number on top of its keys: the same on every run and host. `depth` is in the unit of the value, and reaches to both sides of it; rates
 * are in hertz.
 */
export type Flicker = { type: 'flicker'; rate: number; depth: number; roughness: number; seed: number };
export type Wave = {
  type: 'wave';
  form: keyof typeof waveForms;
  frequency: number;
  depth: number;
  /** Where it begins, in degrees. */
  phase: number;
};
export type Drift = { type: 'drift'; rate: number; depth: number; seed: number };
/**
 * Multiplies the value so that what was measured of it, such as the share of light that a step adds, stays as on `frame`: against pumping when a lamp
 * passes the border. `shares` are frames in their order, and what was measured there.
 */
export type Level = { type: 'level'; frame: number; shares: readonly (readonly [number, number])[] };
export type Modulator = Flicker | Wave | Drift | Level;

export const waveForms = { sine: 'Sine', triangle: 'Triangle', square: 'Square' } as const;
export const modulatorNames = {
  flicker: 'Flicker',
  wave: 'Wave',
  drift: 'Drift',
  level: 'Constant level',
} as const;

/** Samples to each side that a value between them is made of. */
const reach = 4;

/** Numbers that follow each other in one group have the mean 0: no flicker stays above or below its value for long. */
const group = 8;

/** The k-th of numbers from −1 to 1: of each group every eighth of the range once, in an order of its own. */
function stratified(seed: number, k: number): number {
  const first = Math.floor(k / group) * group + 1_000_000;
  const own = hashRandom(seed, k + 1_000_000);
  let rank = 0;
  for (let i = first; i < first + group; i++) {
    const other = hashRandom(seed, i);
    if (other < own || (other === own && i < k + 1_000_000)) rank++;
  }
  return (2 * rank + 1) / group - 1;
}

/** From here on what goes beyond 1 between two numbers is held below it, without a corner. */
const held = 0.75;
function within(x: number): number {
  const over = (Math.abs(x) - held) / (1 - held);
  if (over <= 0) return x;
  // tanh: 1 − 2/(e²ˣ + 1).
  return Math.sign(x) * (held + (1 - held) * (1 - 2 / (exp(2 * over) + 1)));
}

/**
 * Noise whose parts lie below `rate` hertz: numbers at every half period, between which a sinc goes, windowed by Lanczos (C. E. Duchon 1979, *Lanczos
 * Filtering in One and Two Dimensions*). From −1 to 1, and of mean 0 over every four periods or so.
 */
export function bandNoise(seconds: number, rate: number, seed: number): number {
  const x = seconds * rate * 2;
  const first = Math.floor(x);
  let [sum, all] = [0, 0];
  for (let k = first - reach + 1; k <= first + reach; k++) {
    const d = x - k;
    const weight = lanczos(d);
    sum += weight * stratified(seed, k);
    all += weight;
  }
  return within(sum / all);
}

function lanczos(d: number): number {
  if (d === 0) return 1;
  const pi = Math.PI;
  return (reach * sinTurns(d / 2) * sinTurns(d / (2 * reach))) / (pi * pi * d * d);
}

/** Waves from −1 to 1 with mean 0, of a place in turns. */
function wave(form: Wave['form'], turns: number): number {
  const t = turns - Math.floor(turns);
  if (form === 'sine') return sinTurns(t);
  if (form === 'square') return t < 0.5 ? 1 : -1;
  return t < 0.25 ? 4 * t : t < 0.75 ? 2 - 4 * t : 4 * t - 4;
}

/** Octaves of a rough flicker, and of a drift. */
const octaves = 3;

/** A measured share on a frame: between those that were measured it goes straight, before and after them it rests. */
function shareOn(shares: Level['shares'], frame: number): number {
  const next = shares.findIndex(([f]) => f >= frame);
  if (next < 0) return shares.at(-1)?.[1] ?? 0;
  const [to, there] = shares[next];
  if (next === 0 || to === frame) return there;
  const [from, here] = shares[next - 1];
  return here + ((there - here) * (frame - from)) / (to - from);
}

/** A level changes a value no more than so many times, up or down. */
const mostLevelled = 16;

/** The factor that holds a level; 1 where there is nothing to hold. */
function levelled({ frame: chosen, shares }: Level, frame: number): number {
  const [wanted, here] = [shareOn(shares, chosen), shareOn(shares, frame)];
  if (!(wanted > 0 && here > 0)) return 1;
  return Math.min(mostLevelled, Math.max(1 / mostLevelled, wanted / here));
}

/** A number with a modulator on a frame, at `fps` frames a second. */
export const modulated = (value: number, m: Modulator, frame: number, fps: number): number =>
  m.type === 'level' ? value * levelled(m, frame) : value + added(m, frame, fps);

/** What a modulator adds on a frame, at `fps` frames a second. */
function added(m: Exclude<Modulator, Level>, frame: number, fps: number): number {
  const seconds = frame / fps;
  if (m.type === 'wave') return m.depth * wave(m.form, m.frequency * seconds + m.phase / 360);
  // A flicker gets rougher by faster parts, a drift slower by stronger ones that take longer.
  const [faster, stronger] = m.type === 'flicker' ? [2, m.roughness / 2] : [0.5, 2];
  let [sum, all, rate, weight] = [0, 0, m.rate, 1];
  for (let k = 0; k < octaves && weight > 0; k++, rate *= faster, weight *= stronger) {
    sum += weight * bandNoise(seconds, rate, m.seed + k * 7919);
    all += weight;
  }
  return (m.depth * sum) / all;
}
