import type { Values } from '../steps/define';
import { stepSpec } from '../steps/registry';
import { type Track, valueAt } from '../time/track';
import { type Animated, animatedOf, findAnimated, usualRate } from './animated';
import { type Finish, originalOf, type Step } from './finish';

/** The values of steps over time, and the frames with keys. */

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

/** The track of a value by the address of what has it. */
export const trackOf = (doc: Finish, address: string, key: string): Track | undefined =>
  findAnimated(doc, address)?.holder.animation?.[key];

const framesOf = (all: readonly Animated[]): number[] => [
  ...new Set(
    all
      .flatMap(({ holder }) => Object.values(holder.animation ?? {}))
      .flatMap((track) => track.keys ?? [])
      .map((k) => k.frame)
      .sort((a, b) => a - b),
  ),
];

/** Frames on which the selected step or strand has keys, or anything where it has none; in order. */
export function keyedFramesOf(doc: Finish, selected: string | undefined): number[] {
  const all = animatedOf(doc);
  const own = selected === undefined ? undefined : findAnimated(doc, selected)?.id;
  const mine = framesOf(all.filter((a) => a.id === own || a.strand.id === selected));
  return mine.length > 0 ? mine : framesOf(all);
}
