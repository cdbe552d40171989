/** Bytes of compressed chunks of OpenEXR files. */

/** Each lane the sum of the lanes up to it. */
// @ts-expect-error: decorator
@inline
function sums(v: v128): v128 {
  const zero = i8x16.splat(0);
  v = i8x16.add(v, i8x16.shuffle(zero, v, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30));
  v = i8x16.add(v, i8x16.shuffle(zero, v, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29));
  v = i8x16.add(v, i8x16.shuffle(zero, v, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
  return i8x16.add(v, i8x16.shuffle(zero, v, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23));
}

/**
 * Undoes the prediction and the parting of even and odd bytes of a chunk of `size` bytes at `from`, into `out`; see
 * `core/formats/exr/compression/bytes.ts`. One piece: `lo` and `hi` are not used. Both have 32 bytes to spare behind them.
 */
export function unpredict(out: usize, from: usize, size: i32, lo: i32, hi: i32, scratch: usize): void {
  const bias = i8x16.splat(-128);
  // The first byte is no difference: its bias is taken back beforehand.
  if (size > 0) store<u8>(from, <u8>(load<u8>(from) + 128));
  let carry = i8x16.splat(0);
  for (let i = 0; i < size; i += 16) {
    const p = from + <usize>i;
    const v = i8x16.add(sums(i8x16.add(v128.load(p), bias)), carry);
    v128.store(p, v);
    carry = i8x16.shuffle(v, v, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15);
  }
  const half = (size + 1) >> 1;
  for (let i = 0; i < half; i += 16) {
    const even = v128.load(from + <usize>i), odd = v128.load(from + <usize>(half + i));
    v128.store(out + <usize>i * 2, i8x16.shuffle(even, odd, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(out + <usize>i * 2 + 16, i8x16.shuffle(even, odd, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31));
  }
}

/**
 * Parts even and odd bytes of a chunk and replaces all but the first by their differences: the inverse of `unpredict`. One piece; both have 32 bytes
 * to spare behind them.
 */
export function predict(out: usize, from: usize, size: i32, lo: i32, hi: i32, scratch: usize): void {
  const half = (size + 1) >> 1;
  for (let i = 0; i < half; i += 16) {
    const a = v128.load(from + <usize>i * 2), b = v128.load(from + <usize>i * 2 + 16);
    v128.store(out + <usize>i, i8x16.shuffle(a, b, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30));
  }
  // After them: what was written too far is odd bytes' room.
  for (let i = 0; i < size - half; i += 16) {
    const a = v128.load(from + <usize>i * 2), b = v128.load(from + <usize>i * 2 + 16);
    v128.store(out + <usize>(half + i), i8x16.shuffle(a, b, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31));
  }
  // The first byte less this, plus the bias, is the first byte.
  const bias = i8x16.splat(-128);
  let before = bias;
  for (let i = 0; i < size; i += 16) {
    const p = out + <usize>i, v = v128.load(p);
    v128.store(p, i8x16.add(i8x16.sub(v, i8x16.shuffle(before, v, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30)), bias));
    before = v;
  }
}
