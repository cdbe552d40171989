import { headOn } from '../../finish/animated';
import type {
  Head,
  IdsHead,
  InputHead,
  MixHead,
  PassHead,
  ShapesHead,
  StackHead,
  Strand,
  TapHead,
} from '../../finish/finish';
import { layerHead } from '../../finish/finish';
import { shownLayers } from '../../finish/layers';
import type { Kind } from '../../picture/kind';
import { draftTransform } from './draft-values';
import { contentKey, type PlainHead } from './node';
import { planPart, planPass, planSize, planWholePass } from './pass';
import type { At, Planner } from './planner';

/** Where a strand begins. Heads are read whole; a part is cut out of them. */
export function planHead(planner: Planner, { id, head, kind }: Strand, { frame, region }: At): string {
  if (head.type === 'tap') return planner.point(head, { frame, region });
  if (head.type !== 'input') return planPart(planner, id, planWhole(planner, id, head, kind, frame), region);
  return head.from && !planner.isEmpty(head.from)
    ? planner.link(head.from, kind, { frame, region })
    : planPart(planner, id, planNothing(planner, id, kind, frame), region);
}

function planWhole(
  planner: Planner,
  strand: string,
  given: Exclude<Head, TapHead | InputHead>,
  kind: Strand['kind'],
  frame: number,
): string {
  const head = headOn(planner.finish, given, frame);
  switch (head.type) {
    case 'pass':
      return planPass(planner, strand, head, kind, frame);
    case 'colour':
    case 'gradient':
      return planPlain(planner, strand, head, frame);
    case 'ids':
      return planIds(planner, strand, head, frame);
    case 'shapes':
      return planShapes(planner, strand, head, frame);
    case 'stack':
      return planStack(planner, strand, head, kind, frame);
    case 'mix':
      return planMix(planner, strand, head, frame);
  }
}

/** Nothing, as the kind that a strand carries. */
const planNothing = (planner: Planner, strand: string, kind: Kind, frame: number): string =>
  kind === 'matte'
    ? planShapes(planner, strand, { type: 'shapes', shapes: [] }, frame)
    : planPlain(planner, strand, { type: 'colour', colour: [0, 0, 0], alpha: 0 }, frame);

function planPlain(planner: Planner, strand: string, head: PlainHead, frame: number): string {
  const input = planSize(planner, strand, frame);
  return planner.add({ key: contentKey('plain', head, input), type: 'plain', strand, input, head });
}

function planShapes(planner: Planner, strand: string, head: ShapesHead, frame: number): string {
  const { scale } = planner;
  const input = planSize(planner, strand, frame);
  const key = contentKey('shapes', head, scale, input);
  return planner.add({ key, type: 'shapes', strand, input, head, scale });
}

/** Id mattes are computed at full size, where coverage is exact, and then made smaller. */
function planIds(planner: Planner, strand: string, head: IdsHead, frame: number): string {
  const { scale } = planner;
  const whole = (pass: string) =>
    planWholePass(planner, strand, { type: 'pass', media: head.media, pass }, frame);
  const inputs =
    head.idFormat === 'ranked'
      ? Array.from({ length: head.ranks }, (_, i) => whole(`${head.pass}${String(i).padStart(2, '0')}`))
      : [whole(head.pass)];
  const edges = head.edges && planWholePass(planner, strand, head.edges, frame);
  const full = contentKey('ids', head.idFormat, head.objects, inputs, edges);
  const input = planner.add({ key: full, type: 'ids', strand, inputs, edges, head, frame });
  if (scale === 1) return input;
  const key = contentKey('draft', false, scale, input);
  return planner.add({ key, type: 'draft', strand, input, scale, data: false });
}

function planStack(
  planner: Planner,
  strand: string,
  head: StackHead,
  kind: Strand['kind'],
  frame: number,
): string {
  const layers = shownLayers(head).map((layer) => {
    const input = layer.from
      ? planner.link(layer.from, 'picture', { frame })
      : planPass(planner, strand, layerHead(layer), kind, frame);
    const transform = draftTransform(layer.transform, planner.scale);
    return { input, opacity: layer.opacity, mode: layer.mode, transform };
  });
  const [first] = layers;
  if (layers.length === 1 && first.opacity === 1 && !first.transform) return first.input;
  return planner.add({ key: contentKey('stack', layers), type: 'stack', strand, layers });
}

function planMix(planner: Planner, strand: string, head: MixHead, frame: number): string {
  const pass = (name: string) => {
    const one: PassHead = { type: 'pass', media: head.media, pass: name };
    return planPass(planner, strand, one, 'picture', frame);
  };
  const alone = head.passes.some((p) => p.solo);
  const counts = head.passes.filter((p) => (alone ? p.solo : !p.off));
  // A mix of nothing is as large as its first pass.
  const used = counts.length > 0 ? counts : [{ ...head.passes[0], gain: 0, within: undefined }];
  const passes = used.map(({ pass: name, gain, tint = [1, 1, 1], within }) => ({
    input: pass(name),
    gains: [tint[0] * gain, tint[1] * gain, tint[2] * gain] as const,
    within: within && planner.link(within, 'matte', { frame }),
  }));
  const beauty = head.beauty === undefined ? undefined : pass(head.beauty);
  const residual = head.show === 'residual';
  const key = contentKey('mix', passes, beauty, residual);
  return planner.add({ key, type: 'mix', strand, passes, beauty, residual });
}
