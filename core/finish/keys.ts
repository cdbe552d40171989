import type { Track } from '../time/track';
import { type Animated, animatedOf, findAnimated } from './animated';
import type { Finish } from './finish';

/** Tracks by their addresses, and the frames with keys. */

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
