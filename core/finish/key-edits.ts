import type { Value, ValueSpec } from '../steps/shared/define';
import { thinned } from '../time/bake';
import { holdingKey, type Interpolation, inOrder, type Key, keyOn } from '../time/keys';
import type { Modulator } from '../time/modulators';
import { type Track, valueAt, within } from '../time/track';
import { type Animated, animatedAt, findAnimated, usualRate, valueOn } from './animated';
import { type Edit, edit, freeId, plainOf } from './edit';
import type { Finish } from './finish';
import { layersOf } from './layers';

/** Edits of how values change over time, of whatever has them (`animated.ts`); of a linked copy those of its original. */

/** Puts a track in place, or takes it away where nothing is left in it. */
export function setTrack({ holder }: Pick<Animated, 'holder'>, key: string, track: Track) {
  const { keys, modulators, follows, ...rest } = plainOf(track);
  const all: Record<string, Track> = { ...holder.animation };
  const kept: Track = {
    ...(keys && keys.length > 0 ? { ...rest, keys } : {}),
    ...(follows ? { follows } : {}),
    ...(modulators && modulators.length > 0 ? { modulators } : {}),
  };
  if (Object.keys(kept).length > 0) all[key] = kept;
  else delete all[key];
  if (Object.keys(all).length > 0) holder.animation = all;
  else delete holder.animation;
}

/** Puts a key of a value in place: in that of one on its frame. */
export function putKey(of: Pick<Animated, 'holder'>, key: string, held: Key<Value>) {
  const track = of.holder.animation?.[key] ?? {};
  const others = ((track.keys ?? []) as readonly Key<Value>[]).filter((k) => k.frame !== held.frame);
  setTrack(of, key, { ...track, keys: inOrder([...others, held]) });
}

/** What an address names, in a draft. A layer whose values change over time has an id from then on, by which it is found wherever it is moved. */
export function changing(draft: Finish, address: string): Animated {
  const found = animatedAt(draft, address);
  if (found.id.includes(':layer-'))
    for (const layer of layersOf(draft))
      if (layer === found.holder) {
        layer.id = freeId(draft, 'layer');
        return { ...found, id: layer.id };
      }
  return found;
}

const nameOf = ({ specs }: Animated, key: string) => specs[key]?.name ?? key;

const trackEdit = (
  doc: Finish,
  address: string,
  key: string,
  label: string,
  change: (of: Animated, track: Track) => void,
): Edit => {
  const found = animatedAt(doc, address);
  return edit(`${label} ${nameOf(found, key)} of ${found.name}`, (draft) => {
    const changed = changing(draft, found.id);
    change(changed, changed.holder.animation?.[key] ?? {});
  });
};

/** Puts a key on a frame where there is none, or takes it away. Without keys the value is the one it had there. */
export function toggleKey(doc: Finish, address: string, key: string, frame: number): Edit {
  const found = animatedAt(doc, address);
  const held = found.holder.animation?.[key];
  const here = held?.keys?.some((k) => k.frame === frame);
  const { modulators: _, ...bare } = held ?? {};
  // What modulators add is not part of a key.
  const now = valueAt(bare, found.plain(key), found.specs[key], frame, doc.rate ?? usualRate, doc.guides);
  return trackEdit(doc, address, key, here ? 'take the key away of' : 'put a key on', (step, track) => {
    const keys = here ? track.keys!.filter((k) => k.frame !== frame) : keyOn(track.keys ?? [], frame, now);
    if (keys.length === 0) step.put(key, now);
    setTrack(step, key, { ...track, keys });
  });
}

/** How a value goes on from the key that holds on a frame. */
export const setInterpolation = (
  doc: Finish,
  address: string,
  key: string,
  frame: number,
  interpolation: Interpolation,
): Edit =>
  trackEdit(
    doc,
    address,
    key,
    `interpolate ${interpolation === 'ease' ? 'with ease' : interpolation === 'linear' ? 'linearly' : 'by hold'} at the key of`,
    (step, track) => {
      const { keys } = track;
      if (!keys) return;
      const held = holdingKey(keys, frame);
      setTrack(step, key, {
        ...track,
        keys: keys.map((k) => (k.frame === held.frame ? { ...k, interpolation } : k)),
      });
    },
  );

/** Moves a key to another frame; one that is there goes. */
export const moveKey = (doc: Finish, address: string, key: string, from: number, to: number): Edit =>
  trackEdit(doc, address, key, 'move a key of', (step, track) => {
    if (track.keys)
      setTrack(step, key, {
        ...track,
        keys: placed(
          track.keys,
          (k) => k.frame === from,
          () => to,
        ),
      });
  });

/** In which space a colour goes from key to key. */
export const setSpace = (doc: Finish, address: string, key: string, space: Track['space']): Edit =>
  trackEdit(doc, address, key, 'change the way between keys of', (step, track) => {
    const { space: _, ...rest } = track;
    setTrack(step, key, space ? { ...rest, space } : rest);
  });

/** What moves a number on top of its keys; `rate` is the shot's, in frames a second, which a finish that has none takes over. */
export function setModulators(
  doc: Finish,
  address: string,
  key: string,
  modulators: readonly Modulator[],
  rate: number = usualRate,
): Edit {
  const found = animatedAt(doc, address);
  return edit(`modulate ${nameOf(found, key)} of ${found.name}`, (draft) => {
    const changed = changing(draft, found.id);
    setTrack(changed, key, { ...changed.holder.animation?.[key], modulators });
    if (rate !== usualRate) draft.rate ??= rate;
  });
}

/**
 * Keys in place of modulators: nowhere further than `tolerance` from what the value was on the frames from `first` to `last`. @throws {FinishError}
 * where the document has no such thing.
 */
export function bake(
  doc: Finish,
  address: string,
  key: string,
  { first, last }: { first: number; last: number },
  tolerance: number,
): Edit {
  const found = animatedAt(doc, address);
  const values = Array.from(
    { length: last - first + 1 },
    (_, i) => valueOn(doc, found, key, first + i) as number,
  );
  const keys = thinned(values, first, tolerance);
  return trackEdit(doc, address, key, 'make keys of the modulators of', (changed) =>
    setTrack(changed, key, { keys }),
  );
}

/** One key among all: of what (an address), of which value, on which frame. */
export type KeyAt = { of: string; key: string; frame: number };

/** Tracks that have some of the keys, each once, with those of its keys. */
function byTrack(doc: Finish, chosen: readonly KeyAt[]) {
  const tracks = new Map<string, { of: Animated; key: string; frames: Set<number> }>();
  for (const { of: address, key, frame } of chosen) {
    const of = findAnimated(doc, address);
    if (!of) continue;
    const name = `${of.id}/${key}`;
    const known = tracks.get(name) ?? { of, key, frames: new Set() };
    known.frames.add(frame);
    tracks.set(name, known);
  }
  return [...tracks.values()];
}

const counted = (count: number) => (count === 1 ? 'a key' : `${count} keys`);

const changeKeys = (
  doc: Finish,
  chosen: readonly KeyAt[],
  label: string,
  change: (keys: readonly Key<Value>[], isChosen: (k: Key) => boolean, spec: ValueSpec) => Key<Value>[],
): Edit =>
  edit(`${label} ${counted(chosen.length)}`, (draft) => {
    for (const { of, key, frames } of byTrack(doc, chosen)) {
      const changed = animatedAt(draft, of.id);
      const track = changed.holder.animation?.[key];
      if (!track?.keys) continue;
      const keys = plainOf(track.keys) as readonly Key<Value>[];
      const kept = change(keys, (k) => frames.has(k.frame), of.specs[key]);
      // The last key that goes leaves its value.
      if (kept.length === 0) changed.put(key, keys[0].value);
      setTrack(changed, key, { ...track, keys: kept });
    }
  });

/** Keys on other frames: those that were moved stay where another was. */
const placed = (
  keys: readonly Key<Value>[],
  isChosen: (k: Key) => boolean,
  to: (frame: number) => number,
): Key<Value>[] => {
  const moved = new Map<number, Key<Value>>();
  for (const k of keys) {
    if (!isChosen(k)) continue;
    // No frame is −0.
    const frame = Math.round(to(k.frame)) + 0;
    moved.set(frame, { ...k, frame });
  }
  return inOrder([...keys.filter((k) => !isChosen(k) && !moved.has(k.frame)), ...moved.values()]);
};

/** Moves keys by frames, also of several values at once. */
export const moveKeys = (doc: Finish, chosen: readonly KeyAt[], by: number): Edit =>
  changeKeys(doc, chosen, 'move', (keys, isChosen) => placed(keys, isChosen, (f) => f + by));

/** The named easings of W3C *CSS Easing Functions Level 1*, by the two inner points of their curves. */
export const easings = {
  'css-ease': { name: 'CSS ease', points: [0.25, 0.1, 0.25, 1] },
  'css-ease-in': { name: 'CSS ease-in', points: [0.42, 0, 1, 1] },
  'css-ease-out': { name: 'CSS ease-out', points: [0, 0, 0.58, 1] },
  'css-ease-in-out': { name: 'CSS ease-in-out', points: [0.42, 0, 0.58, 1] },
} as const;

/** Gives keys, and the ones after them, the handles of a named easing. */
export const setEasing = (doc: Finish, chosen: readonly KeyAt[], easing: keyof typeof easings): Edit =>
  changeKeys(doc, chosen, `ease by ${easings[easing].name}`, (keys, isChosen) => {
    const [x1, y1, x2, y2] = easings[easing].points;
    const eased = keys.map((k) => ({ ...k }));
    keys.forEach((k, i) => {
      const next = keys[i + 1];
      if (!next || !isChosen(k)) return;
      const span = next.frame - k.frame;
      const rise = typeof k.value === 'number' ? (next.value as number) - k.value : 0;
      eased[i].interpolation = 'ease';
      eased[i].out = [x1 * span, y1 * rise];
      eased[i + 1].in = [(x2 - 1) * span + 0, (y2 - 1) * rise + 0];
    });
    return eased;
  });

/** Moves keys of numbers by frames and by a value, held to what is declared; of other values nothing moves. */
export const shiftKeys = (doc: Finish, chosen: readonly KeyAt[], by: number, value: number): Edit =>
  changeKeys(doc, chosen, 'move', (keys, isChosen, spec) => {
    if (spec.type !== 'number') return [...keys];
    const shifted = keys.map((k) =>
      isChosen(k) ? { ...k, value: within(spec, (k.value as number) + value) } : k,
    );
    return placed(shifted, isChosen, (f) => f + by);
  });

/**
 * A handle of a key, in frames and value from it. Joined, the one on the other side gets the same slope, and keeps its frames; where there was none it
 * gets a third of the span.
 */
export const setHandle = (
  doc: Finish,
  { of: address, key, frame }: KeyAt,
  side: 'in' | 'out',
  to: readonly [number, number],
  joined: boolean,
): Edit =>
  trackEdit(doc, address, key, 'shape', (step, track) => {
    const keys = (track.keys ?? []) as readonly Key<Value>[];
    const i = keys.findIndex((k) => k.frame === frame);
    if (i < 0) return;
    // A handle stays on its side.
    const frames = side === 'out' ? Math.max(0, to[0]) : Math.min(0, to[0]);
    const shaped: Key<Value> = { ...keys[i], [side]: [frames, to[1]] };
    const [other, neighbour] =
      side === 'out' ? (['in', keys[i - 1]] as const) : (['out', keys[i + 1]] as const);
    if (joined && neighbour && frames !== 0) {
      const reach = shaped[other]?.[0] ?? (neighbour.frame - frame) / 3;
      shaped[other] = [reach, (to[1] / frames) * reach];
    }
    setTrack(step, key, { ...track, keys: keys.map((k, n) => (n === i ? shaped : k)) });
  });

/** Stretches keys about a frame by a factor; below 0 they go backwards. Handles go with them. */
export const scaleKeys = (doc: Finish, chosen: readonly KeyAt[], about: number, factor: number): Edit =>
  changeKeys(doc, chosen, factor < 0 ? 'reverse' : 'stretch', (keys, isChosen) => {
    const scaled = (h: readonly [number, number] | undefined) => h && ([h[0] * factor + 0, h[1]] as const);
    const changed = keys.map((k): Key<Value> => {
      if (!isChosen(k) || (!k.in && !k.out)) return k;
      const { in: into, out, ...rest } = k;
      // Backwards what came in goes out.
      const [first, second] = factor < 0 ? [scaled(out), scaled(into)] : [scaled(into), scaled(out)];
      return { ...rest, ...(first ? { in: first } : {}), ...(second ? { out: second } : {}) };
    });
    return placed(changed, isChosen, (f) => about + (f - about) * factor);
  });

export const removeKeys = (doc: Finish, chosen: readonly KeyAt[]): Edit =>
  changeKeys(doc, chosen, 'remove', (keys, isChosen) => keys.filter((k) => !isChosen(k)));

/** Changes what keys say: their value or how they go on. */
export const changeEach = (
  doc: Finish,
  chosen: readonly KeyAt[],
  part: Partial<Pick<Key<Value>, 'value' | 'interpolation' | 'in' | 'out'>>,
): Edit =>
  changeKeys(doc, chosen, 'change', (keys, isChosen) =>
    keys.map((k) => (isChosen(k) ? { ...k, ...part } : k)),
  );

/** A key that was copied, with where it was. */
export type CopiedKey = KeyAt & { held: Key<Value> };

export const copiedKeys = (doc: Finish, chosen: readonly KeyAt[]): CopiedKey[] =>
  chosen.flatMap((at) => {
    const track = findAnimated(doc, at.of)?.holder.animation?.[at.key];
    const held = track?.keys?.find((k) => k.frame === at.frame);
    return held ? [{ ...at, held: held as Key<Value> }] : [];
  });

/** Puts copied keys back onto their values, the first of them on a frame; those that are there make way. */
export function pasteKeys(copied: readonly CopiedKey[], frame: number): Edit {
  const first = Math.min(...copied.map((c) => c.frame));
  return edit(`paste ${counted(copied.length)}`, (draft) => {
    for (const { of: address, key, held } of copied) {
      if (findAnimated(draft, address))
        putKey(changing(draft, address), key, { ...held, frame: frame + held.frame - first });
    }
  });
}
