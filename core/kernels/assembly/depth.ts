/** A picture in layers by how far each of its pixels is out of focus; see `core/optics/defocus-by-depth.ts`. Rows `lo` … `hi` unless stated. */
import { add, clampi, F, finite, ld, luma, mul, sp, st, sub } from './vector';

/**
 * Radius of the circle of confusion of pixels `lo` … `hi` in pixels, near ones below 0, from their depth d: `scale` · (d − focus)/d, held to `most`. A depth
 * that is endless, not a number or not above 0 is endlessly far.
 */
export function confusion(out: usize, depth: usize, focus: f32, scale: f32, most: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const d = F(depth + (<usize>i << 4));
    const r: f32 = finite(d) && d > 0 ? scale * (1 - focus / d) : scale;
    store<f32>(out + (<usize>i << 2), r > most ? most : r < -most ? -most : r);
  }
}

/**
 * The part of a picture that belongs to a layer: `wide` pixels across, from (x0, y0) of a frame `width` across. Of what is not nearer, pixels of the
 * radius `here` are all in it, those towards `farther` less, so that the mean square of both radii stays that of the pixel. What is no farther than
 * `nearer` hides the layer: it is left empty. `last`: nothing is nearer. `first`: nothing is farther. `cover`, a plane, gets the share, where it is not 0.
 */
export function layerPart(
  out: usize, cover: usize, from: usize, radii: usize, width: i32, x0: i32, y0: i32, wide: i32, farther: f32, here: f32, nearer: f32, first: i32, last: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const by: f32 = first ? 0 : 1 / (farther * farther - here * here);
  for (let y = lo; y < hi; y++) {
    let p = <usize>(y * wide) << 4, at = <usize>((y + y0) * width + x0);
    for (let x = 0; x < wide; x++, at++, p += 16) {
      const r = F(radii + (at << 2));
      let share: f32 = 1;
      if (!last && r <= nearer) share = 0;
      else if (!first && r > here) share = r >= farther ? 0 : (farther * farther - r * r) * by;
      st(out + p, share > 0 ? mul(ld(from + (at << 4)), sp(share)) : sp(0));
      if (cover) store<f32>(cover + (p >> 2), share);
    }
  }
}

/** Bytes of a place in a field of `holesBegin`: the layer's light by its weight; its share by the weight, the weight, and how much of the place is seen. */
const bytes: usize = 32;

/**
 * What is seen of a layer at half of its size, for what is hidden to be filled from. Bright places count little, so that a lamp does not fill what lies
 * beside it. Rows of the smaller size.
 */
export function holesBegin(
  out: usize, half: i32, part: usize, cover: usize, radii: usize, width: i32, x0: i32, y0: i32, wide: i32, high: i32, nearer: f32, lo: i32, hi: i32, scratch: usize,
): void {
  for (let y = lo; y < hi; y++)
    for (let x = 0; x < half; x++) {
      let light = sp(0), share: f32 = 0, weight: f32 = 0, seen: f32 = 0;
      const right = min(2 * x + 2, wide), below = min(2 * y + 2, high);
      for (let j = 2 * y; j < below; j++)
        for (let i = 2 * x; i < right; i++) {
          if (F(radii + (<usize>((j + y0) * width + i + x0) << 2)) <= nearer) continue;
          const p = <usize>(j * wide + i) << 4, c = ld(part + p), s = F(cover ? cover + (p >> 2) : part + p + 12);
          const w: f32 = 1 / (1 + max(<f32>0, luma(c)));
          light = add(light, mul(c, sp(w)));
          share += s * w;
          weight += w;
          seen += 1;
        }
      const o = out + <usize>(y * half + x) * bytes;
      st(o, light);
      v128.store(o, f32x4(share, weight, seen / <f32>((right - 2 * x) * (below - 2 * y)), 0), 16);
    }
}

/** A field at half of its size. Rows of the smaller. */
export function holesDown(out: usize, half: i32, from: usize, wide: i32, high: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++)
    for (let x = 0; x < half; x++) {
      let light = sp(0), rest = sp(0);
      const right = min(2 * x + 2, wide), below = min(2 * y + 2, high);
      for (let j = 2 * y; j < below; j++)
        for (let i = 2 * x; i < right; i++) {
          const p = from + <usize>(j * wide + i) * bytes;
          light = add(light, ld(p));
          rest = add(rest, v128.load(p, 16));
        }
      const by = sp(1 / <f32>((right - 2 * x) * (below - 2 * y))), o = out + <usize>(y * half + x) * bytes;
      st(o, mul(light, by));
      v128.store(o, mul(rest, by), 16);
    }
}

let lightThere: v128 = f32x4.splat(0), shareThere: f32 = 0;
/** A filled field of half the size at a pixel, straight between its places: into the two above. */
// @ts-expect-error: decorator
@inline function fieldAt(field: usize, half: i32, low: i32, x: i32, y: i32): void {
  const cx = x >> 1, cy = y >> 1, nx = clampi(x & 1 ? cx + 1 : cx - 1, 0, half - 1), ny = clampi(y & 1 ? cy + 1 : cy - 1, 0, low - 1);
  const a = field + <usize>(cy * half + cx) * bytes, b = field + <usize>(cy * half + nx) * bytes, c = field + <usize>(ny * half + cx) * bytes, d = field + <usize>(ny * half + nx) * bytes;
  const k = sp(0.5625), l = sp(0.1875), m = sp(0.0625);
  lightThere = add(add(mul(ld(a), k), mul(add(ld(b), ld(c)), l)), mul(ld(d), m));
  shareThere = F(a + 16) * <f32>0.5625 + (F(b + 16) + F(c + 16)) * <f32>0.1875 + F(d + 16) * <f32>0.0625;
}

/** Fills a field, in place: what is seen as it is, the rest from the filled field of half its size (`coarse`, 0 for the smallest). */
export function holesUp(field: usize, wide: i32, coarse: usize, half: i32, low: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++)
    for (let x = 0; x < wide; x++) {
      const p = field + <usize>(y * wide + x) * bytes, weight = F(p + 20), seen: f32 = coarse ? F(p + 24) : weight > 0 ? 1 : 0;
      const by: f32 = weight > 0 ? seen / weight : 0;
      let light = mul(ld(p), sp(by)), share: f32 = F(p + 16) * by;
      if (seen < 1 && coarse) {
        fieldAt(coarse, half, low, x, y);
        light = add(light, mul(lightThere, sp(1 - seen)));
        share += shareThere * (1 - seen);
      }
      st(p, light);
      store<f32>(p + 16, share);
    }
}

/** What is hidden of a part, out of the filled field of half its size. */
export function holesFill(
  part: usize, cover: usize, radii: usize, width: i32, x0: i32, y0: i32, wide: i32, field: usize, half: i32, low: i32, nearer: f32, lo: i32, hi: i32, scratch: usize,
): void {
  for (let y = lo; y < hi; y++)
    for (let x = 0, r = radii + (<usize>((y + y0) * width + x0) << 2); x < wide; x++, r += 4) {
      if (F(r) > nearer) continue;
      fieldAt(field, half, low, x, y);
      const p = <usize>(y * wide + x) << 4;
      st(part + p, lightThere);
      if (cover) store<f32>(cover + (p >> 2), shareThere);
    }
}

/** Lays a blurred part (`wide` across, from (x0, y0)) over what lies behind it in a frame `width` across, in place. `cover` 0: its share is its alpha. Rows of the part. */
export function layOver(sum: usize, width: i32, x0: i32, y0: i32, part: usize, cover: usize, wide: i32, opaque: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    let p = <usize>(y * wide) << 4, o = sum + (<usize>((y + y0) * width + x0) << 4);
    for (let x = 0; x < wide; x++, p += 16, o += 16) {
      const share = cover ? F(cover + (p >> 2)) : F(part + p + 12);
      // Nothing but the noise of a transform: what lies here stays, bit for bit.
      if (share <= <f32>1e-5) continue;
      const c = add(ld(part + p), mul(ld(o), sp(share > 1 ? 0 : 1 - share)));
      const a = f32x4.extract_lane(c, 3);
      st(o, f32x4.replace_lane(c, 3, opaque || a > 1 ? 1 : a));
    }
  }
}

/** Four bands of a plane as the channels of a picture of their height, each beginning `step` rows below the one before. Rows of the picture. */
export function intoBands(out: usize, plane: usize, width: i32, step: i32, lo: i32, hi: i32, scratch: usize): void {
  const below = <usize>(step * width) << 2;
  for (let i = lo * width; i < hi * width; i++) {
    const p = plane + (<usize>i << 2);
    st(out + (<usize>i << 4), f32x4(F(p), F(p + below), F(p + 2 * below), F(p + 3 * below)));
  }
}

/** The plane of such bands: of each row that band which has at least `margin` rows around it. Rows of the plane. */
export function outOfBands(out: usize, bands: usize, width: i32, step: i32, margin: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const k = step > 0 ? clampi((y - margin) / step, 0, 3) : 0;
    let o = out + (<usize>(y * width) << 2), p = bands + (<usize>((y - k * step) * width) << 4) + (<usize>k << 2);
    for (let x = 0; x < width; x++, o += 4, p += 16) store<f32>(o, F(p));
  }
}

/** Weights 1 3 3 1 / 8 about every second pixel, each way; the border goes on. Rows of the smaller size. Scratch: a row of the larger. */
export function halve(out: usize, half: i32, from: usize, width: i32, height: i32, lo: i32, hi: i32, scratch: usize): void {
  const near = sp(0.375), far = sp(0.125), stride = <usize>width << 4;
  for (let y = lo; y < hi; y++) {
    const a = from + <usize>clampi(2 * y - 1, 0, height - 1) * stride, b = from + <usize>(2 * y) * stride;
    const c = from + <usize>clampi(2 * y + 1, 0, height - 1) * stride, d = from + <usize>clampi(2 * y + 2, 0, height - 1) * stride;
    for (let x: usize = 0; x < stride; x += 16) st(scratch + x, add(mul(add(ld(a + x), ld(d + x)), far), mul(add(ld(b + x), ld(c + x)), near)));
    const o = out + (<usize>(y * half) << 4);
    for (let x = 0; x < half; x++) {
      const p = scratch + (<usize>x << 5);
      if (x > 0 && 2 * x + 2 < width) st(o + (<usize>x << 4), add(mul(add(ld(p - 16), v128.load(p, 32)), far), mul(add(ld(p), v128.load(p, 16)), near)));
      else {
        const l = scratch + (<usize>clampi(2 * x - 1, 0, width - 1) << 4), r = scratch + (<usize>clampi(2 * x + 1, 0, width - 1) << 4), s = scratch + (<usize>clampi(2 * x + 2, 0, width - 1) << 4);
        st(o + (<usize>x << 4), add(mul(add(ld(l), ld(s)), far), mul(add(ld(p), ld(r)), near)));
      }
    }
  }
}

/** Twice as large, straight between the pixels of `halve`; the border goes on. Rows of the larger size. Scratch: a row of the smaller. */
export function double(out: usize, width: i32, from: usize, half: i32, low: i32, lo: i32, hi: i32, scratch: usize): void {
  const near = sp(0.75), far = sp(0.25);
  for (let y = lo; y < hi; y++) {
    const cy = y >> 1, a = from + (<usize>(cy * half) << 4), b = from + (<usize>(clampi(y & 1 ? cy + 1 : cy - 1, 0, low - 1) * half) << 4);
    for (let x = 0; x < half; x++) {
      const q = <usize>x << 4;
      st(scratch + q, add(mul(ld(a + q), near), mul(ld(b + q), far)));
    }
    let o = out + (<usize>(y * width) << 4);
    for (let x = 0; x < width; x++, o += 16) {
      const cx = x >> 1, nx = clampi(x & 1 ? cx + 1 : cx - 1, 0, half - 1);
      st(o, add(mul(ld(scratch + (<usize>cx << 4)), near), mul(ld(scratch + (<usize>nx << 4)), far)));
    }
  }
}
