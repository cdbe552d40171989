import { findAnimated } from '../finish/animated';
import { type Edit, edit, plainOf } from '../finish/edit';
import { type Finish, FinishError, findStep, type Step, specOf, stepName } from '../finish/finish';
import { type Drive, type Front, settledBy } from '../finish/front';
import { contentsOf, drivingOf } from '../finish/uses';
import type { ValueSpec } from '../steps/shared/define';

/** Edits of what stands on the front of a recipe. */

/** Values that can stand on a front: tables, curves and words are edited inside. */
export const canStandInFront = ({ type }: ValueSpec): boolean =>
  type === 'number' || type === 'colour' || type === 'toggle' || type === 'choice';

const frontOf = (use: Step, frontId: string): Front => {
  const found = use.front?.find((f) => f.id === frontId);
  if (found) return found;
  throw new FinishError('This control is not on the front any more', 'edit', 'Choose another one.');
};

const changeFront = (
  doc: Finish,
  useId: string,
  label: string,
  change: (use: Step, draft: Finish) => void,
): Edit => {
  const name = stepName(contentsOf(doc, useId).use);
  return {
    ...edit(`${label} of ${name}`, (draft) => change(contentsOf(draft, useId).use, draft)),
    opens: true,
  };
};

/** What the front needs to know of a value: its declaration, and what it is now. */
function valueInside(doc: Finish, stepId: string, key: string) {
  const found = findStep(doc, stepId);
  const spec = found && specOf(found.step)?.values[key];
  const value = findAnimated(doc, stepId)?.plain(key);
  if (!found || !spec || value === undefined || !canStandInFront(spec))
    throw new FinishError(
      'This value cannot stand on the front',
      'edit',
      'Choose a number, a colour or a choice.',
    );
  const driving = drivingOf(doc, stepId, key);
  if (driving)
    throw new FinishError(
      `${spec.name} of ${stepName(found.step)} is driven by ${driving.front.name} already`,
      'edit',
      'Take it off there first.',
    );
  return { spec, value, name: stepName(found.step) };
}

function frontValue(spec: ValueSpec, value: unknown): Front['value'] {
  if (spec.type === 'number') {
    const { type, unit, from, to, soft, whole } = spec;
    return { type, unit, from, to, soft, ...(whole ? { whole } : {}), default: value as number };
  }
  if (spec.type === 'choice')
    return { type: 'choice', options: { ...spec.options }, default: value as string };
  return { type: spec.type, default: value } as Front['value'];
}

/** Puts a value of a step inside on the front, under its own name or another one. */
export function addFront(doc: Finish, useId: string, stepId: string, key: string, as?: string): Edit {
  const { spec, name } = valueInside(doc, stepId, key);
  return changeFront(doc, useId, `put ${spec.name} of ${name} on the front`, (use, draft) => {
    const inner = valueInside(plainOf(draft), stepId, key);
    const front = use.front ?? [];
    const base =
      (as ?? key.replace(/[A-Z]/g, (c) => `-${c}`))
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '') || 'value';
    let id = base;
    for (let n = 2; front.some((f) => f.id === id) || id === 'amount' || id === 'invert'; n++)
      id = `${base}-${n}`;
    const names = new Set(front.map((f) => f.name));
    use.front = [
      ...front,
      {
        id,
        name:
          as ??
          (names.has(inner.spec.name)
            ? `${inner.spec.name} of ${inner.name}`.slice(0, 200)
            : inner.spec.name),
        description: inner.spec.description.slice(0, 300),
        value: frontValue(inner.spec, inner.value),
        drives: [{ step: stepId, value: key }],
      },
    ];
    use.values[id] = inner.value;
  });
}

/** Lets a control drive one more value: a number in the proportion that both have now. */
export function addDrive(doc: Finish, useId: string, frontId: string, stepId: string, key: string): Edit {
  const { name } = frontOf(contentsOf(doc, useId).use, frontId);
  valueInside(doc, stepId, key);
  return changeFront(doc, useId, `let ${name} drive another value`, (use, draft) => {
    const front = frontOf(use, frontId);
    const { spec, value } = valueInside(plainOf(draft), stepId, key);
    if (spec.type !== front.value.type)
      throw new FinishError(
        `${front.name} is a ${front.value.type}, ${spec.name} is a ${spec.type}`,
        'edit',
        'Choose a value of the same type.',
      );
    const standard = front.value.default;
    const factor =
      spec.type === 'number' && typeof standard === 'number' && standard !== 0
        ? Number(((value as number) / standard).toPrecision(6))
        : 1;
    front.drives.push({
      step: stepId,
      value: key,
      ...(spec.type === 'number' && factor !== 1 ? { factor } : {}),
    });
  });
}

/** How a control drives one of its values: by a factor, or over a curve. */
export const setDrive = (
  doc: Finish,
  useId: string,
  frontId: string,
  index: number,
  how: Pick<Drive, 'factor' | 'curve'>,
): Edit =>
  changeFront(doc, useId, 'change what the front drives', (use) => {
    const front = frontOf(use, frontId);
    const { step, value } = front.drives[index];
    front.drives[index] = { step, value, ...how };
  });

/** Takes one value off a control; the control goes with the last. What it drove keeps the value that it had. */
export const removeDrive = (doc: Finish, useId: string, frontId: string, index: number): Edit => {
  const { drives, name } = frontOf(contentsOf(doc, useId).use, frontId);
  if (drives.length === 1) return removeFront(doc, useId, frontId);
  return changeFront(doc, useId, `take a value off ${name}`, (use, draft) => {
    settle(draft, use, frontId, [index]);
    frontOf(use, frontId).drives.splice(index, 1);
  });
};

/** Takes a control off the front. What it drove keeps the values that it had. */
export function removeFront(doc: Finish, useId: string, frontId: string): Edit {
  const { name } = frontOf(contentsOf(doc, useId).use, frontId);
  return changeFront(doc, useId, `take ${name} off the front`, (use, draft) => {
    settle(draft, use, frontId);
    use.front = use.front?.filter((f) => f.id !== frontId);
    delete use.values[frontId];
    if (use.animation) {
      delete use.animation[frontId];
      if (Object.keys(use.animation).length === 0) delete use.animation;
    }
  });
}

/** Gives what a control drives, or some of it, the value that it makes of it now. */
function settle(draft: Finish, use: Step, frontId: string, which?: readonly number[]): void {
  const front = plainOf(frontOf(use, frontId));
  const now = use.values[frontId] ?? front.value.default;
  front.drives.forEach((d, i) => {
    if (which && !which.includes(i)) return;
    const inner = findAnimated(draft, d.step);
    if (inner?.specs[d.value])
      inner.put(d.value, settledBy(inner.specs[d.value], front, d, plainOf(now), inner.plain(d.value)));
  });
}

/** The value that a control has now becomes its default: what a new use begins with. */
export function setFrontDefault(doc: Finish, useId: string, frontId: string): Edit {
  const { name } = frontOf(contentsOf(doc, useId).use, frontId);
  return changeFront(doc, useId, `take the default ${name}`, (use, draft) => {
    settle(draft, use, frontId);
    const front = frontOf(use, frontId);
    const now = plainOf(use.values[frontId] ?? front.value.default);
    front.value = { ...front.value, default: now } as Front['value'];
  });
}

/** Renames a control, says what it does, or changes the range of a number. */
export const changeFrontWords = (
  doc: Finish,
  useId: string,
  frontId: string,
  part: { name?: string; description?: string; soft?: readonly [number, number] },
): Edit =>
  changeFront(doc, useId, `change ${frontOf(contentsOf(doc, useId).use, frontId).name}`, (use) => {
    const front = frontOf(use, frontId);
    if (part.name !== undefined) front.name = part.name;
    if (part.description !== undefined) front.description = part.description;
    if (part.soft && front.value.type === 'number') {
      const { from, to } = front.value;
      const [low, high] = part.soft;
      front.value = { ...front.value, soft: [low, high], from: Math.min(from, low), to: Math.max(to, high) };
    }
  });

/** Moves a control along the front. */
export const moveFront = (doc: Finish, useId: string, frontId: string, by: number): Edit =>
  changeFront(doc, useId, 'change the order of the front', (use) => {
    const all = use.front ?? [];
    const at = all.findIndex((f) => f.id === frontId);
    const to = Math.max(0, Math.min(all.length - 1, at + by));
    all.splice(to, 0, ...all.splice(at, 1));
  });

/** Gives a value on the front back to the recipe: its default, without keys. */
export const takeBack = (doc: Finish, useId: string, frontId: string): Edit => {
  const { name } = frontOf(contentsOf(doc, useId).use, frontId);
  return edit(`take back ${name}`, (draft) => {
    const { use } = contentsOf(draft, useId);
    use.values[frontId] = plainOf(frontOf(use, frontId).value.default);
    if (!use.animation) return;
    delete use.animation[frontId];
    if (Object.keys(use.animation).length === 0) delete use.animation;
  });
};
