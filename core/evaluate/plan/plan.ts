import { headOn, valuesOn } from '../finish/animated';
import type {
  Finish,
  Head,
  IdsHead,
  InputHead,
  LayerTransform,
  MixHead,
  PassHead,
  ShapesHead,
  StackHead,
  Step,
  Strand,
  Tap,
  TapHead,
} from '../finish/finish';
import { FinishError, layerHead, leadingPass, specOf } from '../finish/finish';
import { kindAt, kindsAlong } from '../finish/flow';
import { shownLayers } from '../finish/layers';
import { isUse, leadsNowhere, spanOf } from '../finish/uses';
import type { MatteFrom } from '../kernels/point';
import type { StackedLayer } from '../kernels/stack';
import { isIdentity } from '../kernels/transform';
import { murmur3 } from '../math/murmur3';
import type { Kind } from '../picture/kind';
import { drafted, grown, type Region } from '../picture/region';
import { draftSize } from '../picture/scale';
import { transformValues } from '../steps/prepare/transform';
import { kindsOf, type StepSpec, type ValueSpecs, type Values } from '../steps/shared/define';

/** A place on a strand: after a step, after its head, or at its end. */
export type StrandPoint = { strand: string; after: string };

/** `region`, of the full-size frame, is the part that is wanted; all of it if there is none. */
export type Request = { finish: Finish; point: StrandPoint; frame: number; scale: number; region?: Region };

export type PlainHead = Extract<Head, { type: 'colour' | 'gradient' }>;

type Gains = readonly [number, number, number];

/** One thing to compute. `key` is made of everything that the result depends on. */
export type Node = { key: string; strand: string } & (
  | { type: 'head'; head: PassHead; frame: number }
  | { type: 'stack'; layers: ({ input: string } & Omit<StackedLayer, 'picture'>)[] }
  | {
      type: 'mix';
      passes: { input: string; gains: Gains; within?: string }[];
      beauty?: string;
      residual: boolean;
    }
  /** A colour or a gradient, as large as its input. */
  | { type: 'plain'; input: string; head: PlainHead }
  /** Chosen objects of an id pass; `edges` is a picture whose alpha softens them. */
  | { type: 'ids'; inputs: string[]; edges?: string; head: IdsHead; frame: number }
  /** Drawn shapes, as large as their input. */
  | { type: 'shapes'; input: string; head: ShapesHead; scale: number }
  | { type: 'draft'; input: string; scale: number; data: boolean; pass?: { head: PassHead; frame: number } }
  /** A part of the input, which is itself the part `of` the frame, or all of it. */
  | { type: 'cut'; input: string; region: Region; of?: Region }
  | { type: 'matte'; input: string; from: MatteFrom }
  /** One less the matte. */
  | { type: 'complement'; input: string }
  /** A matte as a picture: white under its alpha. */
  | { type: 'white'; input: string }
  | {
      type: 'step';
      stepId: string;
      spec: StepSpec;
      values: Values;
      input: string;
      slots: Record<string, string>;
      /** The same place on other frames. */
      neighbours: string[];
      region?: Region;
      /** For a step that goes by it. */
      frame?: number;
      /** The frame whose file holds the camera position, if the step needs it. */
      camera?: { media: string; frame: number };
    }
);

/** Nodes in dependency order: each comes after its inputs. The last one is the result. */
export type Plan = { nodes: Node[]; key: string };

/** 64 bits of a hash: keys of different content meet once in about 2^32 results, far past what a cache holds. */
const contentKey = (...parts: unknown[]): string => {
  const text = JSON.stringify(parts);
  return `${murmur3(text).toString(36)}-${murmur3(text, 0x9747b28c).toString(36)}`;
};

/** Values with lengths in pixels of the draft in place of the full frame. */
export function draftValues(specs: ValueSpecs, values: Values, scale: number): Values {
  if (scale === 1) return values;
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => {
      const declared = specs[key];
      return [key, declared.type === 'number' && declared.unit === 'px' ? (value as number) * scale : value];
    }),
  );
}

/** A layer's place in the draft; none where it stays put. */
const draftTransform = (transform: LayerTransform | undefined, scale: number): LayerTransform | undefined =>
  transform && !isIdentity(transform)
    ? (draftValues(transformValues, transform, scale) as LayerTransform)
    : undefined;

/** Strands by id, and the number of steps before a point: undefined if the strand has no such step. */
function pointsOf({ strands }: Finish) {
  type Found = { strand: Strand; counts: Map<string, number> };
  return {
    strands: new Map(
      strands.map((strand): [string, Found] => [
        strand.id,
        { strand, counts: new Map(strand.steps.map((s, i): [string, number] => [s.id, i + 1])) },
      ]),
    ),
    count: ({ strand, counts }: Found, after: string): number | undefined =>
      after === 'head' ? 0 : after === 'end' ? strand.steps.length : counts.get(after),
  };
}

/** A place on a frame, and the part of it that is wanted, in pixels of the draft. */
type At = { frame: number; region?: Region };

/**
 * What has to be computed for a request. Bypassed and neutral steps, and steps that rest on what their strand carries, are not in
 * it. Of a part only as much is computed as its steps reach; heads are read whole.
 * `identity` gives what tells one content of a media frame from another.
 */
export function planOf(request: Request, identity: (media: string, frame: number) => string): Plan {
  const { finish, scale } = request;
  const nodes = new Map<string, Node>();
  const points = pointsOf(finish);
  /** Keys of what was planned, by strand, number of steps, frame and region. */
  const planned = new Map<string, string>();
  const add = (node: Node) => {
    if (!nodes.has(node.key)) nodes.set(node.key, node);
    return node.key;
  };

  const cutTo = (strand: string, input: string, region: Region | undefined, of?: Region): string =>
    region &&
    (!of ||
      of.x !== region.x ||
      of.y !== region.y ||
      of.width !== region.width ||
      of.height !== region.height)
      ? add({ key: contentKey('cut', region, of, input), type: 'cut', strand, input, region, of })
      : input;

  const whole = (strand: string, head: PassHead, frame: number): string =>
    add({
      key: contentKey('head', head.pass, identity(head.media, frame)),
      type: 'head',
      strand,
      head,
      frame,
    });

  const passKey = (strand: string, head: PassHead, kind: Strand['kind'], frame: number): string => {
    const key = whole(strand, head, frame);
    if (scale === 1) return key;
    const data = kind === 'data';
    const draft = contentKey('draft', data, scale, key);
    return add({ key: draft, type: 'draft', strand, input: key, pass: { head, frame }, scale, data });
  };

  /** The picture that sets the size of all others. */
  const sizeKey = (strand: string, frame: number): string => {
    const leading = leadingPass(finish);
    if (leading) return passKey(strand, leading, 'picture', frame);
    throw new FinishError(
      'The picture size is unknown',
      `strand ${strand}, head`,
      'Add a strand that begins at a pass.',
    );
  };

  const idsKey = (strand: string, head: IdsHead, frame: number): string => {
    const layer = (pass: string): PassHead => ({ type: 'pass', media: head.media, pass });
    // Id mattes are computed at full size, where coverage is exact, and then made smaller.
    const inputs =
      head.idFormat === 'ranked'
        ? Array.from({ length: head.ranks }, (_, i) =>
            whole(strand, layer(`${head.pass}${String(i).padStart(2, '0')}`), frame),
          )
        : [whole(strand, layer(head.pass), frame)];
    const edges = head.edges && whole(strand, head.edges, frame);
    const full = contentKey('ids', head.idFormat, head.objects, inputs, edges);
    const key = add({ key: full, type: 'ids', strand, inputs, edges, head, frame });
    if (scale === 1) return key;
    const draft = contentKey('draft', false, scale, key);
    return add({ key: draft, type: 'draft', strand, input: key, scale, data: false });
  };

  const stackKey = (strand: string, head: StackHead, kind: Strand['kind'], frame: number): string => {
    const layers = shownLayers(head).map((l) => {
      const pass = layerHead(l);
      const input = l.from ? slotKey(l.from, 'picture', { frame }) : passKey(strand, pass, kind, frame);
      const transform = draftTransform(l.transform, scale);
      return { input, opacity: l.opacity, mode: l.mode, transform };
    });
    const [first] = layers;
    if (layers.length === 1 && first.opacity === 1 && !first.transform) return first.input;
    return add({ key: contentKey('stack', layers), type: 'stack', strand, layers });
  };

  const mixKey = (strand: string, head: MixHead, frame: number): string => {
    const pass = (name: string) =>
      passKey(strand, { type: 'pass', media: head.media, pass: name }, 'picture', frame);
    const alone = head.passes.some((p) => p.solo);
    const counts = head.passes.filter((p) => (alone ? p.solo : !p.off));
    // A mix of nothing is as large as its first pass.
    const used = counts.length > 0 ? counts : [{ ...head.passes[0], gain: 0, within: undefined }];
    const passes = used.map(({ pass: name, gain, tint = [1, 1, 1], within }) => ({
      input: pass(name),
      gains: [tint[0] * gain, tint[1] * gain, tint[2] * gain] as const,
      within: within && slotKey(within, 'matte', { frame }),
    }));
    const beauty = head.beauty === undefined ? undefined : pass(head.beauty);
    const residual = head.show === 'residual';
    const key = contentKey('mix', passes, beauty, residual);
    return add({ key, type: 'mix', strand, passes, beauty, residual });
  };

  const plainKey = (strand: string, head: PlainHead, frame: number): string => {
    const input = sizeKey(strand, frame);
    return add({ key: contentKey('plain', head, input), type: 'plain', strand, input, head });
  };

  const shapesKey = (strand: string, head: ShapesHead, frame: number): string => {
    const input = sizeKey(strand, frame);
    const key = contentKey('shapes', head, scale, input);
    return add({ key, type: 'shapes', strand, input, head, scale });
  };

  const wholeHead = (
    strand: string,
    given: Exclude<Head, TapHead | InputHead>,
    kind: Strand['kind'],
    frame: number,
  ) => {
    const head = headOn(finish, given, frame);
    switch (head.type) {
      case 'pass':
        return passKey(strand, head, kind, frame);
      case 'colour':
      case 'gradient':
        return plainKey(strand, head, frame);
      case 'ids':
        return idsKey(strand, head, frame);
      case 'shapes':
        return shapesKey(strand, head, frame);
      case 'stack':
        return stackKey(strand, head, kind, frame);
      case 'mix':
        return mixKey(strand, head, frame);
    }
  };

  /** Nothing, as the kind that a strand carries. */
  const nothing = (strand: string, kind: Kind, frame: number): string =>
    kind === 'matte'
      ? shapesKey(strand, { type: 'shapes', shapes: [] }, frame)
      : plainKey(strand, { type: 'colour', colour: [0, 0, 0], alpha: 0 }, frame);

  const headKey = ({ id, head, kind }: Strand, { frame, region }: At): string => {
    if (head.type === 'tap') return at(head, { frame, region });
    if (head.type !== 'input') return cutTo(id, wholeHead(id, head, kind, frame), region);
    return head.from && !isEmpty(head.from)
      ? slotKey(head.from, kind, { frame, region })
      : cutTo(id, nothing(id, kind, frame), region);
  };

  const isEmpty = (tap: Pick<Tap, 'strand'>): boolean =>
    leadsNowhere((id) => points.strands.get(id)?.strand, tap);

  const at = (point: StrandPoint, on: At): string => {
    const found = points.strands.get(point.strand);
    if (!found) throw new FinishError(`There is no strand “${point.strand}”`, 'request', 'Reload the shot.');
    const count = points.count(found, point.after);
    if (count === undefined)
      throw new FinishError(
        `Strand “${found.strand.name}” has no step “${point.after}”`,
        'request',
        'Choose another point.',
      );
    return after(found.strand, count, on);
  };

  /**
   * What stands after the first `count` steps of a strand. Each is planned once for a frame and a region, however many take from
   * it; the steps above are planned first, one after the other, so that a long strand does not make a deep stack.
   */
  const after = (strand: Strand, count: number, on: At): string => {
    const suffix = `${on.frame}/${on.region ? JSON.stringify(on.region) : ''}`;
    const keyOf = (n: number) => `${strand.id}/${n}/${suffix}`;
    const known = planned.get(keyOf(count));
    if (known !== undefined) return known;
    if (!on.region) {
      let first = count;
      while (first > 0 && !planned.has(keyOf(first - 1))) first--;
      for (let n = first; n < count; n++)
        planned.set(keyOf(n), n === 0 ? headKey(strand, on) : stepKey(strand, n, on));
    }
    const key = count === 0 ? headKey(strand, on) : stepKey(strand, count, on);
    planned.set(keyOf(count), key);
    return key;
  };

  const stepKey = (strand: Strand, count: number, on: At): string => {
    const step = strand.steps[count - 1];
    const spec = specOf(step)!;
    if (isUse(step)) return recipeKey(strand, count, on);
    const values = valuesOn(finish, step, on.frame);
    const inactive = step.bypass || !kindsOf(spec).includes(kindsAlong(finish, strand)[count - 1]);
    if (inactive || spec.neutral(values as never)) return after(strand, count - 1, on);
    const used = { ...draftValues(spec.values, values, scale), ...speedsOf(spec, step, on.frame) };
    const region = on.region && grown(on.region, spec.reach(used as never));
    const input = after(strand, count - 1, { frame: on.frame, region });
    const looked = spec.frames?.(values as never) ?? [];
    const linked = Object.entries(step.slots).filter(([, tap]) => !isEmpty(tap));
    const lookedAt = spec.framesOf === undefined ? undefined : Object.fromEntries(linked)[spec.framesOf];
    const neighbours = looked.flatMap((by) => {
      try {
        const there = { frame: on.frame + by, region };
        return lookedAt
          ? slotKey(lookedAt, spec.slots[spec.framesOf!].kind, there)
          : after(strand, count - 1, there);
      } catch {
        // Before the first frame and after the last there is nothing to look at.
        return [];
      }
    });
    const slots = Object.fromEntries(
      linked.map(([slot, tap]) => [slot, slotKey(tap, spec.slots[slot].kind, { frame: on.frame, region })]),
    );
    const camera = spec.camera?.(values as never, Object.keys(slots))
      ? cameraOf(strand, on.frame)
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
    return on.region ? cutTo(strand.id, key, on.region, region) : key;
  };

  /** What a recipe gives: the picture that came to it, what its steps made of that, or both by its master amount and its mask. */
  const recipeKey = (strand: Strand, count: number, on: At): string => {
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
    const slots = { input, ...(masked ? { mask: slotKey(mask, 'matte', on) } : {}) };
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
  };

  /** How much values change about a frame, from half a frame before to half a frame after it, in the draft. */
  const speedsOf = (spec: StepSpec, step: Step, frame: number): Values => {
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
  };

  const cameraOf = (strand: Strand, frame: number) => {
    const media = strand.head.type === 'pass' ? strand.head.media : leadingPass(finish)?.media;
    return media === undefined ? undefined : { media, frame };
  };

  const slotKey = (tap: Tap, kind: Kind, on: At): string => {
    const input = at(tap, on);
    const carried = kindAt(finish, tap.strand, tap.after);
    const { strand } = tap;
    if (kind === 'matte') {
      const from = tap.as ?? 'luminance';
      const matte =
        carried === 'matte'
          ? input
          : add({ key: contentKey('matte', from, input), type: 'matte', strand, input, from });
      return tap.invert
        ? add({ key: contentKey('complement', matte), type: 'complement', strand, input: matte })
        : matte;
    }
    if (carried === 'matte')
      return add({ key: contentKey('white', input), type: 'white', strand: tap.strand, input });
    return input;
  };

  const key = at(request.point, { frame: request.frame, region: regionGiven(request) });
  return { nodes: [...nodes.values()], key };
}

/** The part of the draft that a request for a part gives: that part on the grid on which parts are computed. */
export const regionGiven = ({ region, scale }: Pick<Request, 'region' | 'scale'>): Region | undefined =>
  region && grown(drafted(region, draftSize(region.of.width, region.of.height, scale)), 0);
