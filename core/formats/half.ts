/**
 * IEEE 754 binary16 ("half") to and from binary32, exact in both directions that are exact, and rounded to
 * nearest, ties to even, where a float has no half of its own (IEEE 754-2008, 4.3.1).
 */

const bits = new Uint32Array(1);
const real = new Float32Array(bits.buffer);

function widen(half: number): number {
  const sign = (half & 0x8000) << 16;
  const exponent = (half >> 10) & 31;
  const mantissa = half & 1023;
  if (exponent === 31) bits[0] = sign | 0x7f800000 | (mantissa << 13);
  else if (exponent > 0) bits[0] = sign | ((exponent + 112) << 23) | (mantissa << 13);
  else {
    real[0] = mantissa * 2 ** -24;
    bits[0] |= sign;
  }
  return bits[0] >>> 0;
}

/** Bit pattern of the float for each of the 65536 halves; kept as bits so that NaN payloads survive. */
const floatBits = Uint32Array.from({ length: 65536 }, (_, half) => widen(half));

/** The bits of the float equal to a half. */
export const floatBitsOfHalf = (half: number): number => floatBits[half];

/** The float equal to a half. */
export function floatOfHalf(half: number): number {
  bits[0] = floatBits[half];
  return real[0];
}

/** Floats of `halves`, exactly; infinities and NaN stay what they are. */
export function halvesToFloats(halves: Uint16Array, out = new Float32Array(halves.length)): Float32Array {
  const words = new Uint32Array(out.buffer, out.byteOffset, out.length);
  for (let i = 0; i < halves.length; i++) words[i] = floatBits[halves[i]];
  return out;
}

/** The half nearest to the float whose bits are `word`; beyond 65504 it overflows to infinity from 65520 on. */
function narrow(word: number): number {
  const sign = (word >>> 16) & 0x8000;
  const magnitude = word & 0x7fffffff;
  if (magnitude > 0x7f800000) return sign | 0x7e00 | ((magnitude >>> 13) & 0x1ff);
  if (magnitude >= 0x477ff000) return sign | 0x7c00;
  if (magnitude >= 0x38800000) {
    const rounded = magnitude + 0xfff + ((magnitude >>> 13) & 1);
    return sign | ((rounded - 0x38000000) >>> 13);
  }
  if (magnitude < 0x33000000) return sign;
  const shift = 126 - (magnitude >>> 23);
  const mantissa = (magnitude & 0x7fffff) | 0x800000;
  const kept = mantissa >>> shift;
  const rest = mantissa & ((1 << shift) - 1);
  const tie = 1 << (shift - 1);
  return sign | (kept + (rest > tie || (rest === tie && (kept & 1) === 1) ? 1 : 0));
}

/** The half nearest to a float. */
export function halfOf(float: number): number {
  real[0] = float;
  return narrow(bits[0]);
}

/** Halves nearest to `floats`. */
export function floatsToHalves(floats: Float32Array, out = new Uint16Array(floats.length)): Uint16Array {
  const words = new Uint32Array(floats.buffer, floats.byteOffset, floats.length);
  for (let i = 0; i < words.length; i++) out[i] = narrow(words[i]);
  return out;
}
