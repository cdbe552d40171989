import { FinishError, type PassHead } from '../finish/finish';
import type { Projection } from '../formats/camera';
import { mixPasses } from '../kernels/air';
import { ArenaFull } from '../kernels/arena';
import { type ColourOp, runColour } from '../kernels/colour';
import { cut } from '../kernels/cut';
import { forgetSpectra } from '../kernels/fourier';
import { colourWhere, complement } from '../kernels/plane';
import { matteOf } from '../kernels/point';
import type { Runtime } from '../kernels/runtime';
import { pickCentres, shrink } from '../kernels/sample';
import { stack } from '../kernels/stack';
import { type Workspace, withWorkspace } from '../kernels/workspace';
import { idsMatte, isPattern } from '../mattes/ids';
import { shapesMatte } from '../mattes/shapes';
import type { Picture } from '../picture/picture';
import type { Region } from '../picture/region';
import type { Values } from '../steps/shared/define';
import type { PictureCache } from './cache';
import { plainPicture } from './plain';
import type { Node, Plan, Request } from './plan/node';
import { planOf } from './plan/plan';

/** Source of pixels: the server's files, or the planes that it sends to the browser. */
export type FrameSource = {
  /** Tells one content of a media frame from another. */
  identity(media: string, frame: number): string;
  /**
   * Fetches the pass at full size, and gives what places it on a workspace. Errors name the file, the frame and the remedy.
   */
  load(head: PassHead, frame: number, signal?: AbortSignal): Promise<(workspace: Workspace) => Picture>;
  /**
   * The pass already made smaller, with the bits that making it smaller here would give; undefined where the whole pass is as
   * quickly had.
   */
  draft?(
    head: PassHead,
    frame: number,
    scale: number,
    signal?: AbortSignal,
  ): Promise<((workspace: Workspace) => Picture) | undefined>;
  /** Starts to fetch a pass that will be needed soon, if it exists. Errors are ignored. */
  ahead?(head: PassHead, frame: number, scale?: number, signal?: AbortSignal): Promise<void>;
  /** Metadata of the frame's file. */
  metadata(media: string, frame: number): Promise<FrameMetadata>;
};

/** Names of objects by id matte, the camera position, and the way from the world to the picture, if the file has them. */
export type FrameMetadata = {
  objects: Record<string, string[]>;
  /** Id mattes whose list of names is announced and cannot be had, with the reason. */
  unreadable?: Record<string, string>;
  camera?: readonly [number, number, number];
  projection?: Projection;
};

/** A newer request has made this one pointless. */
export class Overtaken extends Error {
  override name = 'Overtaken';
}

export type Run = {
  runtime: Runtime;
  source: FrameSource;
  cache: PictureCache;
  overtaken?: () => boolean;
  /** Ends what is being fetched once nobody wants the result. */
  signal?: AbortSignal;
  /** Lets the host hear what has come in meanwhile. */
  breathe?: () => Promise<void>;
  /** Told before each thing that is read or computed. */
  progress?: (progress: Progress) => void;
};

/** What is read or computed just now: the name of a step or a pass, and how many of how many things come before it. */
export type Progress = { what: string; done: number; of: number };

/** The name of what a node makes, for whoever waits for it. */
function nameOf(node: Node): string {
  switch (node.type) {
    case 'step':
      return node.spec.name;
    case 'head':
      return node.head.pass || 'the frame';
    case 'draft':
      return node.pass?.head.pass || 'the frame';
    case 'ids':
      return 'the objects';
    case 'shapes':
      return 'the shapes';
    case 'stack':
      return 'the layers';
    case 'mix':
      return 'the mix of passes';
    case 'plain':
    case 'cut':
    case 'matte':
    case 'complement':
    case 'white':
      return 'the picture';
  }
}

const inputsOf = (node: Node): string[] => {
  switch (node.type) {
    case 'head':
      return [];
    case 'stack':
      return node.layers.map((l) => l.input);
    case 'mix':
      return [
        ...node.passes.flatMap((p) => [p.input, ...(p.within ? [p.within] : [])]),
        ...(node.beauty ? [node.beauty] : []),
      ];
    case 'ids':
      return [...node.inputs, ...(node.edges ? [node.edges] : [])];
    case 'draft':
    case 'cut':
    case 'matte':
    case 'complement':
    case 'white':
    case 'plain':
    case 'shapes':
      return [node.input];
    case 'step':
      return [node.input, ...Object.values(node.slots), ...node.neighbours];
  }
};

function sameSize(given: Picture, wanted: Picture, what: string, strand: string) {
  if (given.width === wanted.width && given.height === wanted.height) return;
  const sizes = `${given.width} by ${given.height} in place of ${wanted.width} by ${wanted.height} pixels`;
  throw new FinishError(`${what} has ${sizes}`, `strand ${strand}`, 'Link a strand of the same size.');
}

async function withCamera(
  values: Values,
  { media, frame }: { media: string; frame: number },
  source: FrameSource,
) {
  const { camera } = await source.metadata(media, frame);
  if (!camera)
    throw new FinishError(
      `The files of ${media} do not contain the camera position`,
      `frame ${frame}`,
      'Type its position into the step.',
    );
  const [cameraX, cameraY, cameraZ] = camera;
  return { ...values, cameraX, cameraY, cameraZ };
}

/** Fetches the inputs of a node; the returned function computes it. */
async function prepare(
  node: Node,
  { source, signal }: Pick<Run, 'source' | 'signal'>,
  input: (key: string) => Picture,
): Promise<(workspace: Workspace) => Picture> {
  switch (node.type) {
    case 'head':
      return source.load(node.head, node.frame, signal);
    case 'draft':
      return (workspace) => (node.data ? pickCentres : shrink)(workspace, input(node.input), node.scale);
    case 'stack': {
      const layers = node.layers.map(({ input: key, ...layer }) => ({ ...layer, picture: input(key) }));
      for (const { picture } of layers)
        sameSize(picture, layers[0].picture, 'A layer of the stack', node.strand);
      return (workspace) => stack(workspace, layers);
    }
    case 'mix': {
      const passes = node.passes.map(({ input: key, gains, within }) => ({
        picture: input(key),
        gains,
        within: within === undefined ? undefined : input(within),
      }));
      const beauty = node.beauty === undefined ? undefined : input(node.beauty);
      for (const other of [...passes.flatMap((p) => [p.picture, p.within]), beauty])
        if (other) sameSize(other, passes[0].picture, 'A pass of the mix', node.strand);
      return (workspace) => mixPasses(workspace, passes, beauty, node.residual);
    }
    case 'plain': {
      const { width, height } = input(node.input);
      return (workspace) => plainPicture(workspace, width, height, node.head);
    }
    case 'ids': {
      const { head, frame } = node;
      const patterned = head.idFormat === 'ranked' && head.objects.some(isPattern);
      const { objects, unreadable } = patterned ? await source.metadata(head.media, frame) : { objects: {} };
      // An empty matte would be delivered as if nothing were there.
      const problem = unreadable?.[head.pass];
      if (problem !== undefined)
        throw new FinishError(
          `Frame ${frame}: objects of ${head.pass} are chosen by a pattern of names. ${problem}`,
          `strand ${node.strand}`,
          'Put the list of names beside the frame, or choose the objects on the picture.',
        );
      const known = objects[head.pass] ?? [];
      const edges = node.edges === undefined ? undefined : input(node.edges);
      return (workspace) => idsMatte(workspace, head, node.inputs.map(input), known, edges);
    }
    case 'shapes': {
      const { width, height } = input(node.input);
      return (workspace) => shapesMatte(workspace, width, height, node.head, node.scale);
    }
    case 'cut':
      return (workspace) => cut(workspace, input(node.input), node.region, node.of);
    case 'white':
      return (workspace) => colourWhere(workspace, input(node.input), [1, 1, 1]);
    case 'matte':
      return (workspace) => matteOf(workspace, input(node.input), node.from);
    case 'complement':
      return (workspace) => complement(workspace, input(node.input));
    case 'step': {
      const picture = input(node.input);
      const slots: Record<string, Picture> = {};
      for (const [slot, key] of Object.entries(node.slots)) {
        const other = input(key);
        sameSize(other, picture, `The slot ${slot} of ${node.spec.name}`, node.strand);
        slots[slot] = other;
      }
      const neighbours = node.neighbours.map(input);
      for (const other of neighbours)
        sameSize(other, picture, `Another frame of ${node.spec.name}`, node.strand);
      const values = node.camera ? await withCamera(node.values, node.camera, source) : node.values;
      return (workspace) => node.spec.run(workspace, picture, slots, values as never, neighbours, node.frame);
    }
  }
}

const between: readonly ColourOp[] = [{ type: 'between' }];

/** Starts to fetch all that a plan needs and the cache lacks: files come side by side, while the first of them is worked on. */
export function fetchAhead(plan: Plan, { source, cache, signal }: Pick<Run, 'source' | 'cache' | 'signal'>) {
  if (!source.ahead) return;
  const byKey = new Map(plan.nodes.map((n) => [n.key, n]));
  const seen = new Set<string>();
  const visit = (key: string) => {
    if (seen.has(key) || cache.has(key)) return;
    seen.add(key);
    const node = byKey.get(key)!;
    if (node.type === 'head') source.ahead?.(node.head, node.frame, 1, signal);
    else if (node.type === 'draft' && node.pass && !cache.has(node.input))
      source.ahead?.(node.pass.head, node.pass.frame, node.scale, signal);
    else for (const input of inputsOf(node)) visit(input);
  };
  visit(plan.key);
}

/**
 * Computes what the plan's last node asks for, taking what the cache has and computing nothing that only feeds it, and
 * hands it to `use` while it is held. Between nodes it gives way to the host; it stops with `Overtaken` when asked to,
 * within a step at the next checkpoint of the runtime.
 */
export async function runPlan<T>(
  plan: Plan,
  run: Run,
  use: (picture: Picture) => T | Promise<T>,
): Promise<T> {
  const { runtime, source, cache, overtaken, breathe, signal } = run;
  const byKey = new Map(plan.nodes.map((n) => [n.key, n]));
  const held = new Map<string, Picture>();
  const hold = (key: string, picture: Picture | undefined) => {
    if (picture) held.set(key, picture);
    return picture;
  };
  const compute = (work: (workspace: Workspace) => Picture, region?: Region): Picture => {
    try {
      return withWorkspace(runtime, work, region);
    } catch (error) {
      // What is kept for later makes room for what is wanted now.
      if (error instanceof ArenaFull && [forgetSpectra(runtime), cache.empty()].some(Boolean))
        return withWorkspace(runtime, work, region);
      throw error;
    }
  };
  const uses = new Map<string, number>();
  for (const node of plan.nodes) for (const key of inputsOf(node)) uses.set(key, (uses.get(key) ?? 0) + 1);
  /** Lets go of what no other node of the plan takes. */
  const release = (key: string) => {
    const left = (uses.get(key) ?? 0) - 1;
    uses.set(key, left);
    if (left === 0 && key !== plan.key && held.delete(key)) cache.unpin(key);
  };
  /** A draft whose full picture is not here is fetched small. */
  const fetchedDraft = async (node: Node) =>
    node.type === 'draft' && node.pass && !held.has(node.input) && !cache.has(node.input)
      ? source.draft?.(node.pass.head, node.pass.frame, node.scale, signal)
      : undefined;
  /**
   * Steps that change each pixel by itself, one after the other, as one program: as far up as nobody else takes what is between them, and nothing of it is
   * here already. Their bits are those of the steps alone.
   */
  const pixelRun = (last: Node): { input: string; program: ColourOp[] } | undefined => {
    const program: ColourOp[] = [];
    let [input, node] = ['', last];
    while (node.type === 'step' && node.spec.program && Object.keys(node.slots).length === 0) {
      program.unshift(...node.spec.program(node.values as never), ...(program.length > 0 ? between : []));
      input = node.input;
      if ((uses.get(input) ?? 0) > 1 || held.has(input) || cache.has(input)) break;
      node = byKey.get(input)!;
    }
    return program.length > 0 ? { input, program } : undefined;
  };
  /** What has to be computed, as far as is known beforehand, and what has been. */
  let [of, done] = [0, 0];
  const count = () => {
    const seen = new Set<string>();
    const visit = (key: string) => {
      if (seen.has(key) || cache.has(key)) return;
      seen.add(key);
      for (const input of inputsOf(byKey.get(key)!)) visit(input);
    };
    visit(plan.key);
    of = seen.size;
  };
  const need = async (key: string): Promise<Picture> => {
    const known = held.get(key) ?? hold(key, cache.pin(key));
    if (known) return known;
    const node = byKey.get(key)!;
    const small = await fetchedDraft(node);
    const pixels = small ? undefined : pixelRun(node);
    const inputs = small ? [] : pixels ? [pixels.input] : inputsOf(node);
    for (const input of inputs) await need(input);
    run.progress?.({ what: nameOf(node), done: Math.min(done, of - 1), of });
    await breathe?.();
    if (overtaken?.()) throw new Overtaken();
    const work =
      small ??
      (pixels
        ? (workspace: Workspace) => runColour(workspace, held.get(pixels.input)!, pixels.program)
        : await prepare(node, run, (k) => held.get(k)!));
    if (overtaken?.()) throw new Overtaken();
    const picture = cache.put(key, compute(work, node.type === 'step' ? node.region : undefined));
    held.set(key, picture);
    done++;
    inputs.forEach(release);
    return picture;
  };
  try {
    if (run.progress) count();
    fetchAhead(plan, run);
    return await use(await need(plan.key));
  } finally {
    for (const key of held.keys()) cache.unpin(key);
  }
}

/** Hands the picture at a place of a finish on a frame to `use`. */
export const evaluate = <T>(
  request: Request,
  run: Run,
  use: (picture: Picture) => T | Promise<T>,
): Promise<T> => runPlan(planOf(request, run.source.identity), run, use);
