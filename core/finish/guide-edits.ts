import { type Axis, type Guide, smoothed } from '../time/guides';
import { type Key, keyOn } from '../time/keys';
import { animatedAt, animatedOf, findAnimated } from './animated';
import { type Edit, edit, freeId } from './edit';
import { type Finish, FinishError, findStep } from './finish';
import { changing, setTrack } from './key-edits';
import type { GuideSource } from './track-schema';

/** Edits of guides, and of what follows them. */

const guideOf = (doc: Finish, id: string): Guide => {
  const found = doc.guides?.find((g) => g.id === id);
  if (found) return found;
  throw new FinishError('This guide is not there any more', `guide ${id}`, 'Choose another guide.');
};

const round = (v: number) => Math.round(v * 100) / 100;

/** A guide at a place, on every frame. */
export function addGuide(doc: Finish, name: string, place: { x: number; y: number }, frame: number): Edit {
  const id = freeId(doc, 'guide');
  return edit(`add the guide ${name}`, (draft) => {
    const key = (value: number): Key<number>[] => [{ frame, value: round(value) }];
    draft.guides = [...(draft.guides ?? []), { id, name, x: key(place.x), y: key(place.y) }];
  });
}

const changeGuide = (doc: Finish, id: string, label: string, change: (guide: Guide) => Guide): Edit => {
  const { name } = guideOf(doc, id);
  return edit(`${label} ${name}`, (draft) => {
    draft.guides = draft.guides?.map((g) => (g.id === id ? (change(g) as typeof g) : g));
  });
};

export const renameGuide = (doc: Finish, id: string, name: string): Edit =>
  changeGuide(doc, id, 'rename the guide', (g) => ({ ...g, name }));

/** Puts a guide somewhere on a frame. */
export const moveGuide = (doc: Finish, id: string, frame: number, { x, y }: { x: number; y: number }): Edit =>
  changeGuide(doc, id, 'move the guide', (g) => ({
    ...g,
    x: keyOn(g.x, frame, round(x)),
    y: keyOn(g.y, frame, round(y)),
  }));

/** Where something was on frames, in their order. */
export type Measured = readonly { frame: number; x: number; y: number }[];

/** The places that were measured, in place of its keys. @throws {FinishError} where nothing was found. */
export function measuredGuide(doc: Finish, id: string, source: GuideSource, places: Measured): Edit {
  if (places.length === 0)
    throw new FinishError(
      'There is nothing to measure on any frame',
      `guide ${id}`,
      'Choose another place or strand.',
    );
  const keys = (axis: Axis): Key<number>[] =>
    places.map((p) => ({ frame: p.frame, value: round(p[axis]), interpolation: 'linear' }));
  return changeGuide(doc, id, 'measure the guide', (g) => ({ ...g, x: keys('x'), y: keys('y'), source }));
}

/** A guide whose keys go more calmly. */
export const smoothGuide = (doc: Finish, id: string): Edit =>
  changeGuide(doc, id, 'smooth the guide', (g) => {
    const calm = (keys: readonly Key<number>[]) => {
      const values = smoothed(keys.map((k) => k.value));
      return keys.map((k, i) => ({ ...k, value: round(values[i]) }));
    };
    return { ...g, x: calm(g.x), y: calm(g.y) };
  });

/** Takes a guide away; what followed it stays where it is by its own value. */
export const removeGuide = (doc: Finish, id: string): Edit => {
  const { name } = guideOf(doc, id);
  return edit(`remove the guide ${name}`, (draft) => {
    for (const animated of animatedOf(draft))
      for (const [key, track] of Object.entries(animated.holder.animation ?? {}))
        if (track.follows?.guide === id) setTrack(animated, key, { ...track, follows: undefined });
    const left = draft.guides?.filter((g) => g.id !== id) ?? [];
    if (left.length > 0) draft.guides = left;
    else delete draft.guides;
  });
};

/** Lets a pair of values follow a guide, or no longer. */
export function follow(
  doc: Finish,
  address: string,
  pair: Readonly<Record<Axis, string>>,
  guide: string | undefined,
): Edit {
  const { id, name } = animatedAt(doc, address);
  const words = guide === undefined ? 'follows nothing' : `follows ${guideOf(doc, guide).name}`;
  return edit(`${name} ${words}`, (draft) => {
    const changed = changing(draft, id);
    for (const axis of ['x', 'y'] as const) {
      const key = pair[axis];
      const follows = guide === undefined ? undefined : { guide, axis, offset: 0 };
      setTrack(changed, key, { ...changed.holder.animation?.[key], follows });
    }
  });
}

/** Two values that are a place on the picture, or a movement over it: what has them, and what they are called. */
export type Pair = { of: string; owner: string; name: string; pair: Readonly<Record<Axis, string>> };

/** The pairs that can follow a guide of what is selected: a step, or all that is at a strand's head. */
export function pairsOf(doc: Finish, selected: string | undefined): Pair[] {
  const step = selected === undefined ? undefined : findAnimated(doc, selected);
  const all = step ? [step] : animatedOf(doc).filter((a) => a.strand.id === selected && !findStep(doc, a.id));
  return all.flatMap(({ id, name, specs }) =>
    Object.entries(specs).flatMap(([x, spec]): Pair[] => {
      const y = x.replace(/X$/, 'Y').replace(/-x$/, '-y');
      const other = specs[y];
      const isPair = y !== x && spec.type === 'number' && other?.type === 'number';
      return isPair && spec.unit === 'px' && other.unit === 'px'
        ? [{ of: id, owner: name, name: spec.name.replace(/ x$/, ''), pair: { x, y } }]
        : [];
    }),
  );
}
