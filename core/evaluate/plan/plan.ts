import { type Finish, FinishError, type Strand, type Tap } from '../../finish/finish';
import { kindAt } from '../../finish/flow';
import { leadsNowhere } from '../../finish/uses';
import type { Kind } from '../../picture/kind';
import { planHead } from './heads';
import { contentKey, type Node, type Plan, type Request, regionGiven, type StrandPoint } from './node';
import type { At, Planner } from './planner';
import { planStep } from './steps';

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

  const isEmpty = (tap: Pick<Tap, 'strand'>): boolean =>
    leadsNowhere((id) => points.strands.get(id)?.strand, tap);

  const point = (place: StrandPoint, on: At): string => {
    const found = points.strands.get(place.strand);
    if (!found) throw new FinishError(`There is no strand “${place.strand}”`, 'request', 'Reload the shot.');
    const count = points.count(found, place.after);
    if (count === undefined)
      throw new FinishError(
        `Strand “${found.strand.name}” has no step “${place.after}”`,
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
        planned.set(keyOf(n), n === 0 ? planHead(planner, strand, on) : planStep(planner, strand, n, on));
    }
    const key = count === 0 ? planHead(planner, strand, on) : planStep(planner, strand, count, on);
    planned.set(keyOf(count), key);
    return key;
  };

  const link = (tap: Tap, kind: Kind, on: At): string => {
    const input = point(tap, on);
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

  const planner: Planner = { finish, scale, identity, add, point, after, link, isEmpty };
  const key = point(request.point, { frame: request.frame, region: regionGiven(request) });
  return { nodes: [...nodes.values()], key };
}
