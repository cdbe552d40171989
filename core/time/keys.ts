import { easedAt } from './bezier';

/** Interpolation from a key to the next one. */
export const interpolations = {
  ease: 'Ease',
  linear: 'Linear',
  hold: 'Hold',
} as const;
export type Interpolation = keyof typeof interpolations;

/** A value on a frame. Handles of an ease go from the key: frames and value; a third of the span, level, where they are not said. */
export type Key<T = unknown> = {
  frame: number;
  value: T;
  /** How it goes on to the next key; eased if it is not said. */
  interpolation?: Interpolation;
  in?: readonly [number, number];
  out?: readonly [number, number];
};

/** The two keys around a frame. Before the first key and after the last there is only one. */
export function around<T>(keys: readonly Key<T>[], frame: number): { from: Key<T>; to?: Key<T> } {
  const next = keys.findIndex((k) => k.frame > frame);
  if (next === 0) return { from: keys[0] };
  const from = keys[(next < 0 ? keys.length : next) - 1];
  return next < 0 || from.frame === frame ? { from } : { from, to: keys[next] };
}

/** How far it is from one key to the next on a frame, 0 to 1, by the timing of their handles. */
export function progressOn<T>(from: Key<T>, to: Key<T>, frame: number): number {
  const span = to.frame - from.frame;
  if (from.interpolation === 'hold') return 0;
  if (from.interpolation === 'linear') return (frame - from.frame) / span;
  const [out] = from.out ?? [span / 3];
  const [into] = to.in ?? [-span / 3];
  return easedAt(frame, [from.frame, 0], [from.frame + out, 0], [to.frame + into, 1], [to.frame, 1]);
}

/** The number of keys, in the order of their frames, on a frame: before the first and after the last it holds. */
export function numberOn(keys: readonly Key<number>[], frame: number): number {
  const { from, to } = around(keys, frame);
  if (!to || from.interpolation === 'hold') return from.value;
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

/** The key that holds on a frame: the last up to it, or the first of all. */
export const holdingKey = <T>(keys: readonly Key<T>[], frame: number): Key<T> =>
  keys.findLast((k) => k.frame <= frame) ?? keys[0];

/** The nearest frame with a key of a value before (−1) or after (1) a frame. */
export const nextKey = (keys: readonly Key[], frame: number, by: 1 | -1): number | undefined =>
  by > 0 ? keys.find((k) => k.frame > frame)?.frame : keys.findLast((k) => k.frame < frame)?.frame;

/** Puts a value on a frame among keys: in place of the one there, or going on as the one before it does. */
export function keyOn<T>(keys: readonly Key<T>[], frame: number, value: T): Key<T>[] {
  const there = keys.find((k) => k.frame === frame);
  if (there) return keys.map((k) => (k === there ? { ...k, value } : k));
  const interpolation = keys.length > 0 ? holdingKey(keys, frame).interpolation : undefined;
  const added: Key<T> = { frame, value, ...(interpolation ? { interpolation } : {}) };
  return inOrder([...keys, added]);
}

export const inOrder = <T>(keys: readonly Key<T>[]): Key<T>[] => [...keys].sort((a, b) => a.frame - b.frame);
