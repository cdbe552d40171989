import { cosTurns } from '../../../math/elementary';

/**
 * The order in which coefficients of an 8 by 8 cosine transform are stored, from low to high frequency (ITU-T T.81, JPEG,
 * figure A.6): place in the block of the k-th one.
 */
export const zigzag = (() => {
  const order: number[] = [];
  for (let d = 0; d < 15; d++) {
    const along: number[] = [];
    for (let y = 0; y < 8; y++) if (d - y >= 0 && d - y < 8) along.push(y * 8 + d - y);
    order.push(...(d % 2 ? along : along.reverse()));
  }
  return Uint8Array.from(order);
})();

/** cos((2x + 1) u π / 16) · c(u) / 2, by u and x. */
const basis = Float64Array.from({ length: 64 }, (_, i) => {
  const [u, x] = [i >> 3, i & 7];
  return (cosTurns(((2 * x + 1) * u) / 32) * (u === 0 ? Math.SQRT1_2 : 1)) / 2;
});
const half = new Float64Array(64);

/** The inverse 8 by 8 cosine transform (ITU-T T.81, A.3.3), in place. */
export function inverseDct(block: Float32Array) {
  for (let v = 0; v < 8; v++) {
    for (let x = 0; x < 8; x++) {
      let sum = 0;
      for (let u = 0; u < 8; u++) sum += block[v * 8 + u] * basis[u * 8 + x];
      half[v * 8 + x] = sum;
    }
  }
  for (let x = 0; x < 8; x++) {
    for (let y = 0; y < 8; y++) {
      let sum = 0;
      for (let v = 0; v < 8; v++) sum += half[v * 8 + x] * basis[v * 8 + y];
      block[y * 8 + x] = sum;
    }
  }
}

/** The forward 8 by 8 cosine transform (ITU-T T.81, A.3.3), in place. */
export function forwardDct(block: Float32Array) {
  for (let y = 0; y < 8; y++) {
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let x = 0; x < 8; x++) sum += block[y * 8 + x] * basis[u * 8 + x];
      half[y * 8 + u] = sum;
    }
  }
  for (let u = 0; u < 8; u++) {
    for (let v = 0; v < 8; v++) {
      let sum = 0;
      for (let y = 0; y < 8; y++) sum += half[y * 8 + u] * basis[v * 8 + y];
      block[v * 8 + u] = sum;
    }
  }
}
