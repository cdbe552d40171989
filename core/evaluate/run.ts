import { FinishError, type Head } from '../finish/finish';
import { matteOf } from '../kernels/matte';
import type { Picture } from '../picture/picture';
import { scaleDown } from '../picture/scale';
import type { PictureCache } from './cache';
import { type Node, type Plan, planOf, type Request } from './plan';

/** Where pixels come from: the server's files, or the planes it sends to the browser. */
export type FrameSource = {
  /** Tells one content of a media frame from another. */
  identity(media: string, frame: number): string;
  /** The pass at full size. Errors name the file, the frame and the mend. */
  load(head: Head, frame: number): Promise<Picture>;
};

/** A newer request has made this one pointless. */
export class Overtaken extends Error {
  override name = 'Overtaken';
}

type Run = {
  source: FrameSource;
  cache: PictureCache;
  overtaken?: () => boolean;
  /** Lets the host hear what has come in meanwhile. */
  breathe?: () => Promise<void>;
};

async function compute(node: Node, input: (key: string) => Picture, source: FrameSource): Promise<Picture> {
  switch (node.type) {
    case 'head': {
      const picture = await source.load(node.head, node.frame);
      return scaleDown(picture, node.scale, node.kind === 'data' ? 'nearest' : 'mean');
    }
    case 'matte':
      return matteOf(input(node.input), node.from);
    case 'step': {
      const picture = input(node.input);
      const slots = Object.fromEntries(
        Object.entries(node.slots).map(([slot, key]) => {
          const other = input(key);
          if (other.width !== picture.width || other.height !== picture.height) {
            const sizes = `${other.width} by ${other.height} in place of ${picture.width} by ${picture.height} pixels`;
            throw new FinishError(
              `The slot ${slot} of ${node.spec.name} has ${sizes}`,
              `strand ${node.strand}`,
              'Link a strand of the same size.',
            );
          }
          return [slot, other];
        }),
      );
      return node.spec.run(picture, slots, node.values as never);
    }
  }
}

/**
 * Computes what the plan's last node asks for, taking what the cache has and computing nothing that only feeds it.
 * Between nodes it gives way to the host, and stops with `Overtaken` when told so.
 */
export async function runPlan(plan: Plan, { source, cache, overtaken, breathe }: Run): Promise<Picture> {
  const byKey = new Map(plan.nodes.map((n) => [n.key, n]));
  const ready = new Map<string, Picture>();
  const need = async (key: string): Promise<Picture> => {
    const known = ready.get(key) ?? cache.get(key);
    if (known) {
      ready.set(key, known);
      return known;
    }
    const node = byKey.get(key)!;
    const inputs =
      node.type === 'head'
        ? []
        : node.type === 'matte'
          ? [node.input]
          : [node.input, ...Object.values(node.slots)];
    for (const input of inputs) await need(input);
    await breathe?.();
    if (overtaken?.()) throw new Overtaken();
    const picture = await compute(node, (k) => ready.get(k)!, source);
    ready.set(key, picture);
    cache.set(key, picture);
    return picture;
  };
  return need(plan.key);
}

/** The picture at a place of a finish on a frame. */
export const evaluate = (request: Request, run: Run): Promise<Picture> =>
  runPlan(planOf(request, run.source.identity), run);
