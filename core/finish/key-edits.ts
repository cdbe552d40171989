import { stepSpec } from '../steps/registry';
import { type Edit, edit, locate } from './edit';
import { type Finish, originalOf, type Step, stepName } from './finish';
import { holdingKey, type Interpolation, type Key, valuesOn } from './keys';

/** Edits of the keys of a step's numbers; of a linked copy those of its original. */

const keysEdit = (
  doc: Finish,
  stepId: string,
  key: string,
  label: string,
  change: (step: Step) => void,
): Edit => {
  const step = originalOf(doc, locate(doc, stepId).step);
  const name = stepSpec(step.type)?.values[key]?.name ?? key;
  return edit(`${label} ${name} of ${stepName(step)}`, (draft) => change(locate(draft, step.id).step));
};

/** Puts a value on a frame among keys: in place of the one there, or going on as the one before it does. */
export function keyOn(keys: readonly Key[], frame: number, value: number): Key[] {
  const there = keys.find((k) => k.frame === frame);
  if (there) return keys.map((k) => (k === there ? { ...k, value } : k));
  const interpolation = keys.length > 0 ? holdingKey(keys, frame).interpolation : undefined;
  const added: Key = { frame, value, ...(interpolation ? { interpolation } : {}) };
  return [...keys, added].sort((a, b) => a.frame - b.frame);
}

/** Puts a key on a frame where there is none, or takes it away. Without keys the value is the one it had there. */
export function toggleKey(doc: Finish, stepId: string, key: string, frame: number): Edit {
  const original = originalOf(doc, locate(doc, stepId).step);
  const here = original.keys?.[key]?.some((k) => k.frame === frame);
  const now = valuesOn(doc, original, frame)[key] as number;
  return keysEdit(doc, stepId, key, here ? 'take the key away of' : 'put a key on', (step) => {
    const all = { ...step.keys };
    const list = here ? all[key].filter((k) => k.frame !== frame) : keyOn(all[key] ?? [], frame, now);
    if (list.length > 0) all[key] = list;
    else {
      delete all[key];
      step.values[key] = now;
    }
    if (Object.keys(all).length > 0) step.keys = all;
    else delete step.keys;
  });
}

/** How a value goes on from the key that holds on a frame. */
export const setInterpolation = (
  doc: Finish,
  stepId: string,
  key: string,
  frame: number,
  interpolation: Interpolation,
): Edit =>
  keysEdit(
    doc,
    stepId,
    key,
    `interpolate ${interpolation === 'ease' ? 'with ease' : interpolation === 'linear' ? 'linearly' : 'by hold'} at the key of`,
    (step) => {
      const list = step.keys?.[key];
      if (list) holdingKey(list, frame).interpolation = interpolation;
    },
  );

/** Moves a key to another frame; one that is there goes. */
export const moveKey = (doc: Finish, stepId: string, key: string, from: number, to: number): Edit =>
  keysEdit(doc, stepId, key, 'move a key of', (step) => {
    const list = step.keys?.[key];
    if (!list || from === to) return;
    const moved = list.find((k) => k.frame === from);
    if (!moved) return;
    const others = list.filter((k) => k !== moved && k.frame !== to);
    moved.frame = to;
    step.keys = { ...step.keys, [key]: [...others, moved].sort((a, b) => a.frame - b.frame) };
  });
