import * as v from 'valibot';
import type { Values } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { type Finish, originalOf, type Step } from './finish';
import { finite } from './heads';

/** Numbers of steps that change from frame to frame. */

/** How the way from a key to the next one goes. */
export const ways = {
  curve: 'Eased',
  linear: 'Straight',
  hold: 'Held',
} as const;
export type Way = keyof typeof ways;

const handle = v.pipe(v.tuple([finite, finite]), v.readonly());
export const keySchema = v.strictObject({
  frame: v.pipe(v.number(), v.integer()),
  value: finite,
  /** How it goes on to the next key; eased if it is not said. */
  way: v.optional(v.picklist(Object.keys(ways) as Way[])),
  /** Handles of the eased way in and out, from the key: frames and value. A third of the way, level, if they are not said. */
  in: v.optional(handle),
  out: v.optional(handle),
});
export type Key = v.InferOutput<typeof keySchema>;

/** A cubic Bézier of one coordinate. */
const bezier = (p: readonly [number, number, number, number], t: number) => {
  const s = 1 - t;
  return s * s * s * p[0] + 3 * s * s * t * p[1] + 3 * s * t * t * p[2] + t * t * t * p[3];
};

/**
 * The height at x of a cubic Bézier from (x0, y0) to (x3, y3), whose handles are held between x0 and x3, so that it never runs back in
 * x: the timing function of W3C *CSS Easing Functions Level 1*. By halving, to the last bit.
 */
export function easedAt(
  x: number,
  [x0, y0]: readonly [number, number],
  [x1, y1]: readonly [number, number],
  [x2, y2]: readonly [number, number],
  [x3, y3]: readonly [number, number],
): number {
  const held = (h: number) => Math.min(x3, Math.max(x0, h));
  const xs = [x0, held(x1), held(x2), x3] as const;
  let [low, high] = [0, 1];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (bezier(xs, middle) < x) low = middle;
    else high = middle;
  }
  return bezier([y0, y1, y2, y3], (low + high) / 2);
}

/** The value of keys, in the order of their frames, on a frame: before the first and after the last it holds. */
export function valueOn(keys: readonly Key[], frame: number): number {
  const next = keys.findIndex((k) => k.frame > frame);
  if (next === 0) return keys[0].value;
  const from = keys[(next < 0 ? keys.length : next) - 1];
  if (next < 0 || from.frame === frame || from.way === 'hold') return from.value;
  const to = keys[next];
  const span = to.frame - from.frame;
  if (from.way === 'linear') return from.value + ((to.value - from.value) * (frame - from.frame)) / span;
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
