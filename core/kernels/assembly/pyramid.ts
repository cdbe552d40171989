/** The two halves of the pyramid of `core/kernels/pyramid.ts`, on RGBA levels that reach 3 pixels beyond the picture. */
import { add, ld, mul, row, sp, st } from './vector';

const margin: i32 = 3;

/**
 * Rows `lo` … `hi` of the coarser level (`width` wide). `fineMargin` is how far the finer level (`fineWidth` × `fineHeight`) reaches beyond the
 * picture. Scratch: (fineWidth + 24) pixels.
 */
export function down(
  out: usize, width: i32, fine: usize, fineWidth: i32, fineHeight: i32, fineMargin: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = fineWidth * 16, pad: usize = 12 * 16, line = scratch + pad;
  const k0 = sp(20.0 / 64), k1 = sp(15.0 / 64), k2 = sp(6.0 / 64), k3 = sp(1.0 / 64);
  memory.fill(scratch, 0, stride + 2 * pad);
  for (let y = lo; y < hi; y++) {
    const c = 2 * (y - margin) + fineMargin;
    if (c >= 3 && c + 3 < fineHeight) {
      // Inside, all seven rows at once.
      const from = row(fine, c, stride);
      for (let x: usize = 0; x < stride; x += 16) {
        const p = from + x;
        const one = add(ld(p - stride), ld(p + stride)), two = add(ld(p - 2 * stride), ld(p + 2 * stride)), three = add(ld(p - 3 * stride), ld(p + 3 * stride));
        st(line + x, add(add(mul(ld(p), k0), mul(one, k1)), add(mul(two, k2), mul(three, k3))));
      }
    } else {
      memory.fill(line, 0, stride);
      for (let j = -3; j <= 3; j++) {
        if (c + j < 0 || c + j >= fineHeight) continue;
        const from = row(fine, c + j, stride), k = j == 0 ? k0 : j == 1 || j == -1 ? k1 : j == 2 || j == -2 ? k2 : k3;
        for (let x: usize = 0; x < stride; x += 16) st(line + x, add(ld(line + x), mul(ld(from + x), k)));
      }
    }
    let o = row(out, y, <usize>width * 16), q = line + <usize>((fineMargin - 2 * margin) * 16);
    for (let x = 0; x < width; x++, o += 16, q += 32) {
      const one = add(ld(q - 16), v128.load(q, 16)), two = add(ld(q - 32), v128.load(q, 32)), three = add(ld(q - 48), v128.load(q, 48));
      st(o, add(add(mul(ld(q), k0), mul(one, k1)), add(mul(two, k2), mul(three, k3))));
    }
  }
}

/** Adds the coarser level (`coarseWidth` wide) to rows `lo` … `hi` of the finer (`width` wide). Scratch: coarseWidth pixels. */
export function addUp(out: usize, width: i32, ownMargin: i32, coarse: usize, coarseWidth: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride: usize = coarseWidth * 16;
  const near = sp(15.0 / 32), far = sp(1.0 / 32), mid = sp(20.0 / 32), side = sp(6.0 / 32);
  for (let y = lo; y < hi; y++) {
    const fine = y - ownMargin;
    const at = (fine >> 1) + margin;
    const c = row(coarse, at, stride);
    if (fine & 1)
      for (let x: usize = 0; x < stride; x += 16) {
        const p = c + x;
        st(scratch + x, add(mul(add(ld(p), ld(p + stride)), near), mul(add(ld(p - stride), ld(p + 2 * stride)), far)));
      }
    else
      for (let x: usize = 0; x < stride; x += 16) st(scratch + x, add(mul(ld(c + x), mid), mul(add(ld(c - stride + x), ld(c + stride + x)), side)));
    let o = row(out, y, <usize>width * 16);
    // An odd pixel lies between two of the coarser level, an even one on one: two at a time, each of the coarser loaded once.
    let x = 0, q = scratch + <usize>((-ownMargin >> 1) + margin) * 16;
    let left = ld(q - 16), here = ld(q), right = v128.load(q, 16);
    if (ownMargin & 1) {
      // The row begins with an odd pixel.
      const next = v128.load(q, 32);
      st(o, add(ld(o), add(mul(add(here, right), near), mul(add(left, next), far))));
      left = here; here = right; right = next;
      q += 16; x = 1; o += 16;
    }
    for (; x + 1 < width; x += 2, o += 32, q += 16) {
      const next = v128.load(q, 32);
      st(o, add(ld(o), add(mul(here, mid), mul(add(left, right), side))));
      v128.store(o, add(v128.load(o, 16), add(mul(add(here, right), near), mul(add(left, next), far))), 16);
      left = here; here = right; right = next;
    }
    if (x < width) st(o, add(ld(o), add(mul(here, mid), mul(add(left, right), side))));
  }
}
