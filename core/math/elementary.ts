/** ln 2 in two parts, the first with enough zero bits at its end that n × it is exact. */
const ln2High = 0.6931471803691238;
const ln2Low = 1.9082149292705877e-10;

/**
 * e^x with +, −, × and ÷ alone, so that every host gives the same bits (a host's `Math.exp` is free to differ in
 * the last place). Relative error below 1e-15 for |x| ≤ 700. Range reduction by ln 2 in two parts, then the
 * Taylor series (Cody & Waite, *Software Manual for the Elementary Functions*, 1980).
 */
export function exp(x: number): number {
  // Past what a double holds.
  if (x < -745) return 0;
  if (x > 710) return Number.POSITIVE_INFINITY;
  const n = Math.round(x / Math.LN2);
  const r = x - n * ln2High - n * ln2Low;
  let sum = 1;
  for (let k = 17; k > 0; k--) sum = 1 + (sum * r) / k;
  let power = 1;
  for (let i = 0; i < Math.abs(n); i++) power *= n < 0 ? 0.5 : 2;
  return sum * power;
}

/** ln x for x > 0, with +, −, × and ÷ alone: x = m · 2^k, then the series of 2 artanh((m − 1)/(m + 1)). */
export function ln(x: number): number {
  let [m, k] = [x, 0];
  for (; m > Math.SQRT2; m /= 2) k++;
  for (; m < Math.SQRT1_2; m *= 2) k--;
  const z = (m - 1) / (m + 1);
  let [term, sum] = [z, 0];
  for (let i = 1; i < 40; i += 2) {
    sum += term / i;
    term *= z * z;
  }
  return 2 * sum + k * Math.LN2;
}

/** x^p for x > 0. */
export const power = (x: number, p: number): number => exp(p * ln(x));

/** Taylor series of cosine (from 0) and sine (from 1), for angles up to a right angle. */
function series(x: number, from: 0 | 1): number {
  let [term, sum] = [from === 0 ? 1 : x, 0];
  for (let k = from; k < 30; k += 2) {
    sum += term;
    term *= -(x * x) / ((k + 1) * (k + 2));
  }
  return sum;
}

/** Cosine of an angle given in full turns. */
export function cosTurns(turns: number): number {
  const t = Math.abs(turns - Math.round(turns));
  // Beyond an eighth of a turn by the sine of what is left to a quarter, where the series is short.
  if (t <= 0.125) return series(2 * Math.PI * t, 0);
  if (t <= 0.375) return -series(2 * Math.PI * (t - 0.25), 1);
  return -series(2 * Math.PI * (0.5 - t), 0);
}

/** Sine of an angle given in full turns. */
export const sinTurns = (turns: number): number => cosTurns(turns - 0.25);

/** arctan x in radians, with +, −, ×, ÷ and √ alone: the angle halved three times, then its series. */
export function arctan(x: number): number {
  // Further out the angle is a right one to the last place.
  if (Math.abs(x) > 1e17) return x > 0 ? Math.PI / 2 : -Math.PI / 2;
  let z = x;
  for (let i = 0; i < 3; i++) z = z / (1 + Math.sqrt(1 + z * z));
  const q = z * z;
  let sum = 0;
  for (let k = 25; k > 0; k -= 2) sum = 1 / k - q * sum;
  return 8 * z * sum;
}

/** The angle of (x, y) in turns from +x counter-clockwise, −½ to ½; 0 for the middle. */
export function turnsOf(x: number, y: number): number {
  if (x === 0 && y === 0) return 0;
  // Half of the angle is that of (x + r, y), which never lies behind the middle but for −x itself.
  const r = Math.sqrt(x * x + y * y);
  if (y === 0) return x > 0 ? 0 : 0.5;
  return arctan(x > 0 ? y / (r + x) : (r - x) / y) / Math.PI;
}
