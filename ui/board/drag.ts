import {
  type Announcements,
  type CollisionDetection,
  pointerWithin,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import type { ShotStore } from '@/browser/session/store';
import { freeId } from '@/core/finish/edit';
import { joinAt, linkSlot, moveStepTo } from '@/core/finish/edits';
import { type Finish, findStep, stepName } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { spanOf } from '@/core/finish/uses';
import { stepSpec } from '@/core/steps/registry';
import { t } from '../words/words';

/** How far from a plus a step may be let go, in pixels. */
const near = 48;

/** Steps go to the nearest place between cards, links to what is under the pointer. */
export const whereDropped: CollisionDetection = (args) => {
  if (String(args.active.id).startsWith('tap:')) return pointerWithin(args);
  const pointer = args.pointerCoordinates;
  if (!pointer) return [];
  return args.droppableContainers
    .filter((c) => String(c.id).startsWith('point:'))
    .flatMap((c) => {
      const rect = args.droppableRects.get(c.id);
      if (!rect) return [];
      const value = Math.hypot(
        rect.left + rect.width / 2 - pointer.x,
        rect.top + rect.height / 2 - pointer.y,
      );
      return value < near ? [{ id: c.id, data: { droppableContainer: c, value } }] : [];
    })
    .sort((a, b) => a.data.value - b.data.value);
};

/**
 * What is dragged is a step by its id, or a link by `tap:strand:after`; where it is dropped is `point:strand:index` between two
 * cards, or `step:id`.
 */
export function dropped(store: ShotStore, what: string, where: string) {
  const { finish, edit, change } = store.getState();
  const [type, ...parts] = where.split(':');
  if (what.startsWith('tap:')) {
    const [, strand, after] = what.split(':');
    if (type === 'point') {
      // Onto a thread: the picture comes in there.
      const id = freeId(finish, 'join');
      if (edit((doc) => joinAt(doc, parts[0], Number(parts[1]), { strand, after }, id)))
        change({ selected: id });
      return;
    }
    const target = type === 'step' ? parts[0] : undefined;
    const slot = target && freeSlot(finish, target, strand, after);
    if (target && slot) {
      const as = slot.kind === 'matte' ? ('luminance' as const) : undefined;
      edit((doc) => linkSlot(doc, target, slot.key, { strand, after, ...(as ? { as } : {}) }));
      change({ selected: target });
    }
    return;
  }
  if (type !== 'point') return;
  const [strand, at] = parts;
  const found = findStep(finish, what);
  if (!found) return;
  const to = Number(at);
  const [first, last] = spanOf(found.strand, found.index);
  const isHere = found.strand.id === strand;
  // Beside itself, or into itself.
  if (isHere && to >= first && to <= last + 1) return;
  // Counted without what is moved: of a recipe all of its steps.
  const index = to - (isHere && last < to ? last - first + 1 : 0);
  edit((doc) => moveStepTo(doc, what, strand, index));
}

/** The slot that a link dropped on a step goes to: the first free one of what is carried there, else the first of it. */
function freeSlot(finish: Finish, stepId: string, strandId: string, after: string) {
  const step = findStep(finish, stepId)?.step;
  const kind = kindAt(finish, strandId, after);
  if (!step) return;
  const slots = Object.entries(stepSpec(step.type)?.slots ?? {}).map(([key, spec]) => ({
    key,
    kind: spec.kind,
  }));
  const fits = slots.filter((s) => s.kind === kind);
  const other = kind === 'data' ? [] : slots.filter((s) => s.kind !== 'data');
  return fits.find((s) => !step.slots[s.key]) ?? fits[0] ?? other[0];
}

/** What is dragged, or where it lies, in words: ids are for the program alone. */
function nameIn(finish: Finish, id: string): string {
  const [type, of, at] = id.split(':');
  const strand = finish.strands.find((s) => s.id === of);
  if (type === 'tap')
    return at === 'head' ? t`a link from ${strand?.name ?? of}` : t`a link from ${stepNamed(finish, at)}`;
  if (type === 'step') return stepNamed(finish, of);
  if (type !== 'point') return stepNamed(finish, type);
  const above = strand?.steps[Number(at) - 1];
  return above ? t`after ${stepName(above)}` : t`at the head of ${strand?.name ?? of}`;
}

const stepNamed = (finish: Finish, id: string) => {
  const step = findStep(finish, id)?.step;
  return step ? stepName(step) : t`a step`;
};

/** What screen readers say of a drag on the board. */
export function spokenDrag(finish: Finish): { announcements: Announcements } {
  const say = (id: UniqueIdentifier) => nameIn(finish, String(id));
  return {
    announcements: {
      onDragStart: ({ active }) => t`Picked up ${say(active.id)}.`,
      onDragOver: ({ active, over }) =>
        over ? t`${say(active.id)}: ${say(over.id)}.` : t`${say(active.id)}: nowhere it can go.`,
      onDragEnd: ({ active, over }) =>
        over ? t`${say(active.id)} was put ${say(over.id)}.` : t`${say(active.id)} stays where it was.`,
      onDragCancel: ({ active }) => t`${say(active.id)} stays where it was.`,
    },
  };
}
