import type { Finish, Head, PassHead, Strand, Tap } from '../finish/finish';
import { FinishError, layerHead, leadingPass, originalOf } from '../finish/finish';
import { murmur3 } from '../formats/murmur3';
import type { MatteFrom } from '../kernels/point';
import type { StepSpec, Values } from '../steps/define';
import { stepSpec } from '../steps/registry';

/** A place on a strand: after a step, after its head, or at its end. */
export type Place = { strand: string; after: string };

export type Request = { finish: Finish; place: Place; frame: number; scale: number };

export type PlainHead = Extract<Head, { type: 'colour' | 'gradient' }>;

/** One thing to compute. `key` is made of everything that the result depends on. */
export type Node = { key: string; strand: string } & (
  | { type: 'head'; head: PassHead; frame: number }
  | { type: 'stack'; layers: { input: string; opacity: number }[] }
  /** A colour or a gradient, as large as its input. */
  | { type: 'plain'; input: string; head: PlainHead }
  | { type: 'draft'; input: string; head: PassHead; frame: number; scale: number; kind: Strand['kind'] }
  | { type: 'matte'; input: string; from: MatteFrom }
  | {
      type: 'step';
      stepId: string;
      spec: StepSpec;
      values: Values;
      input: string;
      slots: Record<string, string>;
    }
);

/** Nodes in an order in which each stands after its inputs; the last is what was asked for. */
export type Plan = { nodes: Node[]; key: string };

/** 64 bits of a hash: keys of different content meet once in about 2^32 results, far past what a cache holds. */
const contentKey = (...parts: unknown[]): string => {
  const text = JSON.stringify(parts);
  return `${murmur3(text).toString(36)}-${murmur3(text, 0x9747b28c).toString(36)}`;
};

/** Values with lengths in pixels of the draft in place of the full frame. */
function draftValues(spec: StepSpec, values: Values, scale: number): Values {
  if (scale === 1) return values;
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => {
      const declared = spec.values[key];
      return [key, declared.type === 'number' && declared.unit === 'px' ? (value as number) * scale : value];
    }),
  );
}

/**
 * What has to be computed for a request. Bypassed and neutral steps, and steps on a data strand, are not in it.
 * `identity` gives what tells one content of a media frame from another.
 */
export function planOf(request: Request, identity: (media: string, frame: number) => string): Plan {
  const { finish, frame, scale } = request;
  const nodes = new Map<string, Node>();
  const add = (node: Node) => {
    if (!nodes.has(node.key)) nodes.set(node.key, node);
    return node.key;
  };

  const passKey = (strand: string, head: PassHead, kind: Strand['kind']): string => {
    const whole = contentKey('head', head.pass, identity(head.media, frame));
    const key = add({ key: whole, type: 'head', strand, head, frame });
    if (scale === 1) return key;
    const draft = contentKey('draft', kind === 'data', scale, key);
    return add({ key: draft, type: 'draft', strand, input: key, head, frame, scale, kind });
  };

  const headKey = (strand: string, head: Head, kind: Strand['kind']): string => {
    if (head.type === 'pass') return passKey(strand, head, kind);
    if (head.type === 'tap') return at(head);
    if (head.type === 'colour' || head.type === 'gradient') {
      const leading = leadingPass(finish);
      if (!leading)
        throw new FinishError(
          'Nothing says how large the picture is',
          `strand ${strand}, head`,
          'Add a strand that begins at a pass.',
        );
      const input = passKey(strand, leading, 'picture');
      return add({ key: contentKey('plain', head, input), type: 'plain', strand, input, head });
    }
    // A stack that shows nothing still has the size of its first layer.
    const shown = head.layers.filter((l) => l.show && l.opacity > 0);
    const used = shown.length > 0 ? shown : [{ ...head.layers[0], opacity: 0 }];
    const layers = used.map((l) => ({ input: passKey(strand, layerHead(l), kind), opacity: l.opacity }));
    if (layers.length === 1 && layers[0].opacity === 1) return layers[0].input;
    return add({ key: contentKey('stack', layers), type: 'stack', strand, layers });
  };

  const at = (place: Place): string => {
    const strand = finish.strands.find((s) => s.id === place.strand);
    if (!strand) throw new FinishError(`There is no strand “${place.strand}”`, 'request', 'Reload the shot.');
    const { kind } = strand;
    let key = headKey(strand.id, strand.head, kind);
    if (place.after === 'head') return key;
    for (const step of strand.steps) {
      const spec = stepSpec(step.type)!;
      const values = originalOf(finish, step).values as Values;
      if (!step.bypass && kind !== 'data' && !spec.neutral(values as never)) {
        const used = draftValues(spec, values, scale);
        const slots = Object.fromEntries(
          Object.entries(step.slots).map(([slot, tap]) => [slot, slotKey(tap, spec.slots[slot].kind)]),
        );
        key = add({
          key: contentKey('step', spec.id, spec.version, used, key, slots),
          type: 'step',
          strand: strand.id,
          stepId: step.id,
          spec,
          values: used,
          input: key,
          slots,
        });
      }
      if (step.id === place.after) return key;
    }
    if (place.after !== 'end') {
      throw new FinishError(
        `Strand “${strand.name}” has no step “${place.after}”`,
        'request',
        'Choose another place.',
      );
    }
    return key;
  };

  const slotKey = (tap: Tap, kind: 'picture' | 'matte'): string => {
    const input = at(tap);
    if (kind === 'picture') return input;
    const from = tap.as ?? 'luminance';
    return add({ key: contentKey('matte', from, input), type: 'matte', strand: tap.strand, input, from });
  };

  const key = at(request.place);
  return { nodes: [...nodes.values()], key };
}
