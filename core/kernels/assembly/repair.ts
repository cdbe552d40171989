/** Broken pixels get what their sound neighbours have. `lo` … `hi` counts rows. */
import { finite, ld, luma, sp, st } from './vector';

// @ts-expect-error: decorator
@inline function isSound(c: v128, least: f32): bool {
  const r = f32x4.extract_lane(c, 0), g = f32x4.extract_lane(c, 1), b = f32x4.extract_lane(c, 2), a = f32x4.extract_lane(c, 3);
  return r - r == 0 && g - g == 0 && b - b == 0 && a - a == 0 && r >= least && g >= least && b >= least;
}

/** The median of the luminance of the sound pixels beside one (by sides and corners), or −1 where there is none. */
function medianAround(from: usize, width: i32, height: i32, x: i32, y: i32, least: f32, scratch: usize): f32 {
  let count = 0;
  for (let v = max(0, y - 1); v <= min(height - 1, y + 1); v++)
    for (let u = max(0, x - 1); u <= min(width - 1, x + 1); u++) {
      if (u == x && v == y) continue;
      const c = ld(from + (<usize>(v * width + u) << 4));
      if (!isSound(c, least)) continue;
      // Sorted as they come: eight at the most.
      const l = luma(c);
      let k = count++;
      for (; k > 0 && load<f32>(scratch + <usize>(k - 1) * 4) > l; k--)
        store<f32>(scratch + <usize>k * 4, load<f32>(scratch + <usize>(k - 1) * 4));
      store<f32>(scratch + <usize>k * 4, l);
    }
  if (count == 0) return -1;
  const upper = load<f32>(scratch + <usize>(count >> 1) * 4);
  return count & 1 ? upper : (upper + load<f32>(scratch + <usize>((count >> 1) - 1) * 4)) / 2;
}

/**
 * A pixel is broken where a channel is not finite, where a colour lies below `least`, or, with `stray` above 0, where its luminance is more than `stray`
 * times the median around it, and above `dark`. It becomes the mean of the sound pixels in the smallest square about it that has some, up to `radius`
 * pixels away; nothing where there is none. All others stay bit for bit.
 */
export function repair(out: usize, from: usize, width: i32, height: i32, least: f32, stray: f32, dark: f32, radius: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++)
    for (let x = 0; x < width; x++) {
      const p = <usize>(y * width + x) << 4, c = ld(from + p);
      let broken = !isSound(c, least);
      if (!broken && stray > 0) {
        const l = luma(c);
        if (l > dark) {
          const middle = medianAround(from, width, height, x, y, least, scratch);
          broken = middle >= 0 && l > stray * max(middle, dark);
        }
      }
      if (!broken) {
        st(out + p, c);
        continue;
      }
      let sum = sp(0), count: f32 = 0;
      for (let r = 1; r <= radius && count == 0; r++)
        for (let v = max(0, y - r); v <= min(height - 1, y + r); v++)
          for (let u = max(0, x - r); u <= min(width - 1, x + r); u++) {
            if (u == x && v == y) continue;
            const n = ld(from + (<usize>(v * width + u) << 4));
            if (!isSound(n, least)) continue;
            sum = f32x4.add(sum, n);
            count += 1;
          }
      st(out + p, count > 0 ? f32x4.div(sum, sp(count)) : sp(0));
    }
}
