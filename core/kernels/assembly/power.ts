/** x^p for x in (0, 1): by logarithm and exponential of base 2, to about 2e-6. The same bits on every host. */
// @ts-expect-error: decorator
@inline export function power01(x: f32, p: f32): f32 {
  // x = m · 2^e with m in [√½, √2); log2 m by the series of atanh, (m − 1)/(m + 1) being at most 0.172.
  let bits = reinterpret<i32>(x);
  let e = (bits >> 23) - 127;
  bits = (bits & 0x7fffff) | 0x3f800000;
  let m = reinterpret<f32>(bits);
  if (m > <f32>1.4142135) { m *= 0.5; e++; }
  const z: f32 = (m - 1) / (m + 1), q: f32 = z * z;
  const log: f32 = z * (<f32>2.885390082 + q * (<f32>0.961796694 + q * (<f32>0.577078016 + q * <f32>0.412198583)));
  const t: f32 = p * (<f32>e + log);
  if (t < -126) return 0;
  const whole = Mathf.floor(t + 0.5), r: f32 = t - whole;
  // 2^r on [−½, ½] by its series.
  const two: f32 = 1 + r * (<f32>0.693147181 + r * (<f32>0.240226507 + r * (<f32>0.0555041087 + r * (<f32>0.00961812911 + r * (<f32>0.00133335581 + r * <f32>0.000154035304)))));
  return two * reinterpret<f32>((<i32>whole + 127) << 23);
}

/** Logarithms of base 2 of four positive normal numbers, to about 1e-6. */
// @ts-expect-error: decorator
@inline export function logs2(x: v128): v128 {
  const one = f32x4.splat(1);
  let e = i32x4.sub(i32x4.shr_s(x, 23), i32x4.splat(127));
  let m = v128.or(v128.and(x, i32x4.splat(0x7fffff)), i32x4.splat(0x3f800000));
  const large = f32x4.gt(m, f32x4.splat(<f32>1.4142135));
  m = v128.bitselect(f32x4.mul(m, f32x4.splat(0.5)), m, large);
  e = i32x4.sub(e, large);
  const z = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one)), q = f32x4.mul(z, z);
  let log = f32x4.splat(<f32>0.412198583);
  log = f32x4.add(f32x4.mul(log, q), f32x4.splat(<f32>0.577078016));
  log = f32x4.add(f32x4.mul(log, q), f32x4.splat(<f32>0.961796694));
  log = f32x4.add(f32x4.mul(log, q), f32x4.splat(<f32>2.885390082));
  return f32x4.add(f32x4.convert_i32x4_s(e), f32x4.mul(z, log));
}

/** Powers of 2 of four numbers, held to −126 … 127, to about 1e-6. */
// @ts-expect-error: decorator
@inline export function exps2(x: v128): v128 {
  const t = f32x4.pmin(f32x4.splat(127), f32x4.pmax(f32x4.splat(-126), x));
  // Added to 3 · 2²² a number is rounded to the nearest whole one, which stands in its last bits.
  const large = f32x4.splat(12582912), bits = f32x4.add(t, large), r = f32x4.sub(t, f32x4.sub(bits, large));
  let two = f32x4.splat(<f32>0.000154035304);
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(<f32>0.00133335581));
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(<f32>0.00961812911));
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(<f32>0.0555041087));
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(<f32>0.240226507));
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(<f32>0.693147181));
  two = f32x4.add(f32x4.mul(two, r), f32x4.splat(1));
  return f32x4.mul(two, i32x4.shl(i32x4.add(bits, i32x4.splat(127)), 23));
}

/** As `power01`, of four numbers; those outside (0, 1) come back as they are. */
// @ts-expect-error: decorator
@inline export function powers01(x: v128, p: f32): v128 {
  const inside = v128.and(f32x4.gt(x, f32x4.splat(0)), f32x4.lt(x, f32x4.splat(1)));
  const log = logs2(v128.bitselect(x, f32x4.splat(0.5), inside));
  return v128.bitselect(exps2(f32x4.mul(f32x4.splat(p), log)), x, inside);
}

/** x^p of four numbers, of those above 0; others come back as they are. */
// @ts-expect-error: decorator
@inline export function powers(x: v128, p: f32): v128 {
  const least = f32x4.splat(<f32>1.17549435e-38);
  const inside = v128.and(f32x4.ge(x, least), f32x4.lt(x, f32x4.splat(Infinity)));
  const log = logs2(v128.bitselect(x, f32x4.splat(1), inside));
  return v128.bitselect(exps2(f32x4.mul(f32x4.splat(p), log)), x, inside);
}
