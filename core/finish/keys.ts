import type { Values } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { type Track, valueAt } from '../time/track';
import { type Finish, originalOf, type Step } from './finish';

/** The values of steps over time. */

/** Frames a second of a finish that does not say them. */
export const usualRate = 24;

/** The values of a step, or of the one it follows, on a frame. */
export function valuesOn(doc: Finish, step: Step, frame: number): Values {
  const { type, values, animation } = originalOf(doc, step);
  if (!animation) return values as Values;
  const now: Values = { ...(values as Values) };
  for (const [key, track] of Object.entries(animation)) {
    const spec = stepSpec(type)?.values[key];
    if (spec) now[key] = valueAt(track, values[key], spec, frame, doc.rate ?? usualRate, doc.guides);
  }
  return now;
}

/** The track of a value of a step, or of the one it follows. */
export const trackOf = (doc: Finish, step: Step, key: string): Track | undefined =>
  originalOf(doc, step).animation?.[key];

/** Frames on which a step has keys, in order. */
export const keyedFramesOf = (doc: Finish, step: Step): number[] => [
  ...new Set(
    Object.values(originalOf(doc, step).animation ?? {})
      .flatMap((track) => track.keys ?? [])
      .map((k) => k.frame)
      .sort((a, b) => a - b),
  ),
];
