import bezierEasing from 'bezier-easing';
import type { Values } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { type Finish, originalOf, type Step } from './finish';
import type { Key } from './step-schema';

/** Numbers of steps that change from frame to frame. */

export { type Interpolation, interpolations, type Key } from './step-schema';

type Point = readonly [number, number];

/**
 * The height at x of a cubic Bézier from p0 to p3, whose handles are held between the two in x, so that it never runs back: the timing
 * function of W3C *CSS Easing Functions Level 1*, computed by the package bezier-easing (error about 1e-6 of the span).
 */
export function easedAt(
  x: number,
  [x0, y0]: Point,
  [x1, y1]: Point,
  [x2, y2]: Point,
  [x3, y3]: Point,
): number {
  const share = (v: number) => Math.min(1, Math.max(0, (v - x0) / (x3 - x0)));
  const [first, second, at] = [share(x1), share(x2), share(x)];
  // The height is linear in the heights of the four points, so ends at the same height need no case of their own.
  const weights = (a: number, b: number) => bezierEasing(first, a, second, b)(at);
  const last = weights(0, 0);
  return y0 + (y1 - y0) * (weights(1, 0) - last) + (y2 - y0) * (weights(0, 1) - last) + (y3 - y0) * last;
}

/** The value of keys, in the order of their frames, on a frame: before the first and after the last it holds. */
export function valueOn(keys: readonly Key[], frame: number): number {
  const next = keys.findIndex((k) => k.frame > frame);
  if (next === 0) return keys[0].value;
  const from = keys[(next < 0 ? keys.length : next) - 1];
  if (next < 0 || from.frame === frame || from.interpolation === 'hold') return from.value;
  const to = keys[next];
  const span = to.frame - from.frame;
  if (from.interpolation === 'linear')
    return from.value + ((to.value - from.value) * (frame - from.frame)) / span;
  const out = from.out ?? [span / 3, 0];
  const into = to.in ?? [-span / 3, 0];
  return easedAt(
    frame,
    [from.frame, from.value],
    [from.frame + out[0], from.value + out[1]],
    [to.frame + into[0], to.value + into[1]],
    [to.frame, to.value],
  );
}

/** The values of a step, or of the one it follows, on a frame; keyed ones held to what the step takes. */
export function valuesOn(doc: Finish, step: Step, frame: number): Values {
  const { type, values, keys } = originalOf(doc, step);
  if (!keys) return values as Values;
  const now: Values = { ...(values as Values) };
  for (const [key, list] of Object.entries(keys)) {
    const spec = stepSpec(type)?.values[key];
    if (spec?.type !== 'number') continue;
    const value = Math.min(spec.to, Math.max(spec.from, valueOn(list, frame)));
    now[key] = spec.whole ? Math.round(value) : value;
  }
  return now;
}

/** The key that holds on a frame: the last up to it, or the first of all. */
export const holdingKey = (keys: readonly Key[], frame: number): Key =>
  keys.findLast((k) => k.frame <= frame) ?? keys[0];

/** The nearest frame with a key of a value before (−1) or after (1) a frame. */
export const nextKey = (keys: readonly Key[], frame: number, by: 1 | -1): number | undefined =>
  by > 0 ? keys.find((k) => k.frame > frame)?.frame : keys.findLast((k) => k.frame < frame)?.frame;
