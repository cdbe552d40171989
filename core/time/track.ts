import { fromOklab, oklab } from '../colour/oklab';
import { type PathPoint, pathBetween } from '../math/path';
import type { Rgb } from '../math/rgb';
import type { NumberSpec, Value, ValueSpec } from '../steps/shared/define';
import { type Axis, type Guide, placeOn } from './guides';
import { around, type Key, numberOn, progressOn } from './keys';
import { type Modulator, modulated } from './modulators';

/** How a value changes over time: keys in the order of their frames, and what moves it on top of them. */
export type Track = {
  keys?: readonly Key<Value>[];
  /** Colours go from key to key in OKLab; in linear light if it is not said. */
  space?: 'oklab';
  /** Of numbers alone: a guide's place on an axis, and so many pixels more, in place of keys. */
  follows?: { guide: string; axis: Axis; offset: number };
  /** Of numbers alone. */
  modulators?: readonly Modulator[];
};

type Rows = readonly (readonly number[])[];

const between = (a: number, b: number, t: number) => a + (b - a) * t;

function colourBetween(a: Rgb, b: Rgb, t: number, space: Track['space']): Rgb {
  if (t === 0) return a;
  if (t === 1) return b;
  if (space !== 'oklab') return [0, 1, 2].map((c) => between(a[c], b[c], t)) as unknown as Rgb;
  const [from, to] = [oklab(a), oklab(b)];
  const [r, g, blue] = fromOklab(
    [0, 1, 2].map((c) => between(from[c], to[c], t)) as [number, number, number],
  );
  // Between two colours of the gamut the way may lead a little beyond it.
  return [Math.max(0, r), Math.max(0, g), Math.max(0, blue)];
}

/** Rows go along number by number where both keys have as many; else the earlier holds. */
const rowsBetween = (a: Rows, b: Rows, t: number): Rows =>
  a.length !== b.length || a.some((row, i) => row.length !== b[i].length)
    ? a
    : a.map((row, i) => row.map((v, k) => between(v, b[i][k], t)));

/** Kinds of values that go from one key to the next; others hold. */
export const goesBetween = (type: ValueSpec['type']): boolean =>
  type === 'number' || type === 'colour' || type === 'rows' || type === 'colours' || type === 'path';

/** A number held to what is declared of it: its bounds, and whole where it counts. */
export function within({ from, to, whole }: NumberSpec, value: number): number {
  const held = Math.min(to, Math.max(from, value));
  return whole ? Math.round(held) : held;
}

/**
 * The value of a track on a frame, at `fps` frames a second; `plain` is what it is without keys. Numbers are held to what is declared. What follows a
 * guide that is none of `guides` has its keys, or its plain value. `drive` makes another value of that, before modulators.
 */
export function valueAt(
  track: Track,
  plain: Value,
  spec: ValueSpec,
  frame: number,
  fps: number,
  guides: readonly Guide[] = [],
  drive: (own: Value) => Value = (own) => own,
): Value {
  const keys = track.keys ?? [];
  if (spec.type === 'number') {
    let value = keys.length > 0 ? numberOn(keys as readonly Key<number>[], frame) : (plain as number);
    const { follows } = track;
    const guide = follows && guides.find((g) => g.id === follows.guide);
    if (guide) value = placeOn(guide, frame)[follows!.axis] + follows!.offset;
    value = drive(value) as number;
    for (const m of track.modulators ?? []) value = modulated(value, m, frame, fps);
    return within(spec, value);
  }
  if (keys.length === 0) return drive(plain);
  const { from, to } = around(keys, frame);
  if (!to || !goesBetween(spec.type)) return drive(from.value);
  const t = progressOn(from, to, frame);
  if (spec.type === 'colour') return drive(colourBetween(from.value as Rgb, to.value as Rgb, t, track.space));
  if (spec.type === 'path')
    return pathBetween(from.value as readonly PathPoint[], to.value as readonly PathPoint[], t);
  const rows = rowsBetween(from.value as Rows, to.value as Rows, t);
  if (spec.type !== 'rows') return rows;
  const columns = Object.values(spec.columns);
  return rows.map((row) => row.map((v, k) => (columns[k].whole ? Math.round(v) : v)));
}
