import { findAnimated } from '../finish/animated';
import { dropUnused, type Edit, edit, freeId, freeName, locate, plainOf, tapsOf } from '../finish/edit';
import { type Finish, FinishError, pointAbove, type Step, type Strand, stepName } from '../finish/finish';
import { kindAt, kindsAlong } from '../finish/flow';
import { settledBy } from '../finish/front';
import { setTrack } from '../finish/key-edits';
import { contentsOf, drivingOf, inputIdOf, slotsOf } from '../finish/uses';
import { join } from '../steps/prepare/join';
import { defaultsOf } from '../steps/shared/define';
import type { Track } from '../time/track';
import { relink } from './close';

/**
 * Leaves the steps of a recipe on their strand, as steps like any others: the picture stays. What its front drove keeps the values that it had; with a
 * master amount or a mask they stand on a strand of their own, which is joined by as much.
 */
export function freeRecipe(doc: Finish, useId: string): Edit {
  const label = `free ${stepName(locate(doc, useId).step)}`;
  return {
    ...edit(label, (draft) => {
      settleDriven(draft, useId);
      const { use, strand: host, first, last, strands } = contentsOf(draft, useId);
      const outer = host.inside;
      const above = pointAbove(host, first);
      const fades =
        use.bypass ||
        use.values.amount !== 1 ||
        use.animation?.amount !== undefined ||
        use.slots.mask !== undefined;
      const input = inputIdOf(useId);
      for (const { strand, head } of slotsOf(draft, useId)) {
        // A slot that only passes on what is linked to it goes.
        if (!head.from || head.from.invert || strand.steps.length > 0) continue;
        if (kindAt(draft, head.from.strand, head.from.after) !== strand.kind) continue;
        for (const after of ['head', 'end']) relink(draft, strand.id, after, plainOf(head.from));
      }
      const taken = new Set(tapsOf(draft).map((t) => t.strand));
      const gone = new Set(
        slotsOf(draft, useId).flatMap(({ strand }) =>
          strand.steps.length === 0 && !taken.has(strand.id) ? [strand.id] : [],
        ),
      );
      for (const strand of strands)
        if (strand.inside === useId) {
          if (outer === undefined) delete strand.inside;
          else strand.inside = outer;
        }
      for (const guide of draft.guides ?? [])
        if (guide.inside === useId) {
          if (outer === undefined) delete guide.inside;
          else guide.inside = outer;
        }
      draft.strands = draft.strands.filter((s) => !gone.has(s.id));
      relink(draft, host.id, input, { strand: host.id, after: above });
      if (fades) {
        besideAndBack(draft, plainOf(use), host, above);
        host.steps.splice(first, 1);
      } else {
        const end = last - 1 === first ? above : host.steps[last - 1].id;
        relink(draft, host.id, useId, { strand: host.id, after: end });
        host.steps.splice(last, 1);
        host.steps.splice(first, 1);
      }
      dropUnused(draft);
    }),
    opens: true,
  };
}

/** The steps of a use on a strand of their own, and in its place a join that brings in as much of them as it did. */
function besideAndBack(draft: Finish, use: Step, host: Strand, above: string): void {
  const kinds = kindsAlong(draft, host);
  const { first, last, steps } = contentsOf(draft, use.id);
  if (kinds[first] !== 'picture')
    throw new FinishError(
      `${stepName(use)} fades a ${kinds[first]}, which no step does`,
      `step ${use.id}`,
      'Set its amount to 1, and take its mask away.',
    );
  const id = freeId(draft, 'strand');
  for (const step of steps) relink(draft, host.id, step.id, { strand: id, after: step.id });
  draft.strands.push({
    id,
    name: freeName(draft, stepName(use)),
    kind: 'picture',
    ...(host.inside === undefined ? {} : { inside: host.inside }),
    head: { type: 'tap', strand: host.id, after: above },
    steps: plainOf(steps),
  });
  const { amount, invert = false } = use.values;
  const values = { ...defaultsOf(join.values), mode: 'source', amount: use.bypass ? 0 : amount, invert };
  const track = use.bypass ? undefined : use.animation?.amount;
  host.steps.splice(first + 1, last - first, {
    id: use.id,
    type: join.id,
    name: use.name,
    bypass: false,
    values: values as Step['values'],
    slots: { picture: { strand: id, after: 'end' }, ...(use.slots.mask ? { mask: use.slots.mask } : {}) },
    ...(track ? { animation: { amount: track } } : {}),
  });
}

/** Gives what the front of a use drives the values that it makes of them. */
function settleDriven(draft: Finish, useId: string): void {
  const doc = plainOf(draft);
  const { use } = contentsOf(doc, useId);
  const changed = findAnimated(doc, useId)!;
  for (const front of use.front ?? [])
    for (const { step, value } of front.drives) {
      const inner = findAnimated(doc, step);
      const driving = drivingOf(doc, step, value);
      if (!inner?.specs[value] || driving?.use.id !== useId) continue;
      const target = findAnimated(draft, step)!;
      const track = use.animation?.[front.id];
      const own = inner.plain(value);
      const set = (now: Step['values'][string]) =>
        settledBy(inner.specs[value], front, driving.drive, now, own);
      target.put(value, set(changed.plain(front.id)));
      const before = inner.holder.animation?.[value];
      if (before?.keys && !track)
        setTrack(target, value, {
          ...before,
          keys: before.keys.map((k) => ({
            ...k,
            value: settledBy(inner.specs[value], front, driving.drive, changed.plain(front.id), k.value),
          })),
        });
      if (track) setTrack(target, value, movedTrack(track, set, driving.drive.factor ?? 1, before));
    }
  // A front of its own would drive them a second time.
  const drafted = contentsOf(draft, useId).use;
  drafted.front = [];
}

/** A track of a front control as one of what it drives. */
function movedTrack(
  track: Track,
  set: (now: Step['values'][string]) => Step['values'][string],
  factor: number,
  own: Track | undefined,
): Track {
  const scaled = (handle: readonly [number, number] | undefined) =>
    handle && ([handle[0], handle[1] * factor] as const);
  const keys = track.keys?.map((k) => ({
    ...k,
    value: set(k.value),
    ...(k.in ? { in: scaled(k.in) } : {}),
    ...(k.out ? { out: scaled(k.out) } : {}),
  }));
  const follows = track.follows && factor === 1 ? { follows: track.follows } : {};
  const modulators = [
    ...(track.modulators ?? []).map((m) =>
      m.type === 'level' ? m : { ...m, depth: m.depth * Math.abs(factor) },
    ),
    ...(own?.modulators ?? []),
  ];
  return {
    ...track,
    ...(keys ? { keys } : {}),
    ...follows,
    ...(modulators.length > 0 ? { modulators } : {}),
  };
}
