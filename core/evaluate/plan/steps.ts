import { valuesOn } from '../../finish/animated';
import { leadingPass, type Step, type Strand, specOf } from '../../finish/finish';
import { kindsAlong } from '../../finish/flow';
import { isUse, spanOf } from '../../finish/uses';
import { grown } from '../../picture/region';
import { kindsOf, type StepSpec, type Values } from '../../steps/shared/define';
import { draftValues } from './draft-values';
import { contentKey } from './node';
import { planPart } from './pass';
import type { At, Planner } from './planner';

/** What stands after a step. Bypassed and neutral steps, and those of another kind than their strand carries, give what came to them. */
export function planStep(planner: Planner, strand: Strand, count: number, on: At): string {
  const { finish, scale, identity, add, after, link, isEmpty } = planner;
  const step = strand.steps[count - 1];
  const spec = specOf(step)!;
  if (isUse(step)) return planRecipe(planner, strand, count, on);
  const values = valuesOn(finish, step, on.frame);
  const inactive = step.bypass || !kindsOf(spec).includes(kindsAlong(finish, strand)[count - 1]);
  if (inactive || spec.neutral(values as never)) return after(strand, count - 1, on);
  const used = { ...draftValues(spec.values, values, scale), ...speedsOf(planner, spec, step, on.frame) };
  const region = on.region && grown(on.region, spec.reach(used as never));
  const input = after(strand, count - 1, { frame: on.frame, region });
  const looked = spec.frames?.(values as never) ?? [];
  const linked = Object.entries(step.slots).filter(([, tap]) => !isEmpty(tap));
  const lookedAt = spec.framesOf === undefined ? undefined : Object.fromEntries(linked)[spec.framesOf];
  const neighbours = looked.flatMap((by) => {
    try {
      const there = { frame: on.frame + by, region };
      return lookedAt
        ? link(lookedAt, spec.slots[spec.framesOf!].kind, there)
        : after(strand, count - 1, there);
    } catch {
      // Before the first frame and after the last there is nothing to look at.
      return [];
    }
  });
  const slots = Object.fromEntries(
    linked.map(([slot, tap]) => [slot, link(tap, spec.slots[slot].kind, { frame: on.frame, region })]),
  );
  const camera = spec.camera?.(values as never, Object.keys(slots))
    ? cameraOf(planner, strand, on.frame)
    : undefined;
  const metadata = camera && identity(camera.media, camera.frame);
  const frame = spec.dependsOnFrame?.(values as never) ? on.frame : undefined;
  const key = add({
    key: contentKey('step', spec.id, spec.version, used, input, slots, neighbours, region, metadata, frame),
    type: 'step',
    strand: strand.id,
    stepId: step.id,
    spec,
    values: used,
    input,
    slots,
    neighbours,
    region,
    frame,
    camera,
  });
  return on.region ? planPart(planner, strand.id, key, on.region, region) : key;
}

/** What a recipe gives: the picture that came to it, what its steps made of that, or both by its master amount and its mask. */
function planRecipe(planner: Planner, strand: Strand, count: number, on: At): string {
  const { finish, add, after, link, isEmpty } = planner;
  const step = strand.steps[count - 1];
  const spec = specOf(step)!;
  const [first] = spanOf(strand, count - 1);
  const { amount, invert } = valuesOn(finish, step, on.frame);
  const { mask } = step.slots;
  const masked = mask !== undefined && !isEmpty(mask);
  const kinds = kindsAlong(finish, strand);
  if (step.bypass) return after(strand, first, on);
  // A recipe that makes a matte of a picture has nothing to fade back to.
  if ((amount === 1 && !masked) || kinds[first] !== kinds[count - 1] || kinds[first] === 'data')
    return after(strand, count - 1, on);
  const input = after(strand, first, on);
  if (amount === 0) return input;
  const look = after(strand, count - 1, on);
  if (look === input) return look;
  const slots = { input, ...(masked ? { mask: link(mask, 'matte', on) } : {}) };
  return add({
    key: contentKey('step', spec.id, spec.version, amount, invert, look, slots, on.region),
    type: 'step',
    strand: strand.id,
    stepId: step.id,
    spec,
    values: { amount, invert },
    input: look,
    slots,
    neighbours: [],
    region: on.region,
  });
}

/** How much values change about a frame, from half a frame before to half a frame after it, in the draft. */
function speedsOf({ finish, scale }: Planner, spec: StepSpec, step: Step, frame: number): Values {
  if (!spec.speeds) return {};
  const [before, after] = [-0.5, 0.5].map((by) =>
    draftValues(spec.values, valuesOn(finish, step, frame + by), scale),
  );
  return Object.fromEntries(
    Object.entries(spec.speeds).map(([name, key]) => [
      name,
      (after[key] as number) - (before[key] as number),
    ]),
  );
}

/** The frame whose file holds the position of the camera. */
function cameraOf({ finish }: Planner, strand: Strand, frame: number) {
  const media = strand.head.type === 'pass' ? strand.head.media : leadingPass(finish)?.media;
  return media === undefined ? undefined : { media, frame };
}
