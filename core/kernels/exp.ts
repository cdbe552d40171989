/** ln 2 in two parts, the first with enough zero bits at its end that n × it is exact. */
const ln2High = 0.6931471803691238;
const ln2Low = 1.9082149292705877e-10;

/**
 * e^x with +, −, × and ÷ alone, so that every host gives the same bits (a host's `Math.exp` is free to differ in
 * the last place). Relative error below 1e-15 for |x| ≤ 700. Range reduction by ln 2 in two parts, then the
 * Taylor series (Cody & Waite, *Software Manual for the Elementary Functions*, 1980).
 */
export function exp(x: number): number {
  const n = Math.round(x / Math.LN2);
  const r = x - n * ln2High - n * ln2Low;
  let sum = 1;
  for (let k = 17; k > 0; k--) sum = 1 + (sum * r) / k;
  let power = 1;
  for (let i = 0; i < Math.abs(n); i++) power *= n < 0 ? 0.5 : 2;
  return sum * power;
}
