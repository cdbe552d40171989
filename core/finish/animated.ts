import type { Value, ValueSpecs, Values } from '../steps/shared/define';
import { type Track, valueAt } from '../time/track';
import {
  type Finish,
  FinishError,
  findStep,
  originalOf,
  type Step,
  type Strand,
  specOf,
  stepName,
} from './finish';
import { driven } from './front';
import { colourValues, gradientValues, layerValues, mixedValues, shapeValues } from './head-values';
import type { Head, Layer, LayerTransform, MixedPass, Shape } from './heads';
import { findLayer } from './layers';
import { drivingOf, drivingsOf, isUse } from './uses';

/**
 * Everything whose values can change over time, by one mechanism: steps, layers of a stack, passes of a mix, drawn shapes, colours and gradients.
 */

type Holder = { animation?: Record<string, Track> };

export type Animated = {
  /**
   * What edits, lanes and tables name it by: the id of a step or a layer, else the strand's id, a colon, and which part of its head it is.
   */
  id: string;
  strand: Strand;
  name: string;
  specs: ValueSpecs;
  /** What has its tracks. */
  holder: Holder;
  /** Its value without keys. */
  plain(key: string): Value;
  /** Gives it a value without keys; of a draft alone. */
  put(key: string, value: Value): void;
};

/** Frames a second of a finish that does not say them. */
export const usualRate = 24;

export const atRest: LayerTransform = { moveX: 0, moveY: 0, rotate: 0, scale: 1, pivotX: 0, pivotY: 0 };
export const shapeAtRest = { moveX: 0, moveY: 0, rotate: 0, scale: 1 };

const anywhere = { id: '', name: '' } as Strand;

const ofStep = (strand: Strand, step: Step): Animated => ({
  id: step.id,
  strand,
  name: stepName(step),
  specs: specOf(step)?.values ?? {},
  holder: step,
  // A value that came onto a front later has its default.
  plain: (key) => step.values[key] ?? specOf(step)!.values[key].default,
  put(key, value) {
    step.values[key] = value;
  },
});

/** A part of a head: its values lie in itself, those of its transform in that. */
function ofHead(
  id: string,
  strand: Strand,
  name: string,
  specs: ValueSpecs,
  holder: Holder & { transform?: object },
  still: Record<string, number> = {},
): Animated {
  const fields = holder as unknown as Record<string, Value | undefined>;
  const isIn = (key: string) => Object.hasOwn(still, key);
  return {
    id,
    strand,
    name,
    specs,
    holder,
    plain: (key) =>
      isIn(key)
        ? ({ ...still, ...holder.transform } as Record<string, number>)[key]
        : (fields[key] ?? specs[key].default),
    put(key, value) {
      if (isIn(key)) holder.transform = { ...still, ...holder.transform, [key]: value };
      else fields[key] = value;
    },
  };
}

export const layerAddress = (strandId: string, layer: Layer, index: number): string =>
  layer.id ?? `${strandId}:layer-${index}`;
export const mixedAddress = (strandId: string, index: number): string => `${strandId}:pass-${index}`;
export const shapeAddress = (strandId: string, shapeId: string): string => `${strandId}:${shapeId}`;
export const headAddress = (strandId: string): string => `${strandId}:head`;

function ofHeads(strand: Strand): Animated[] {
  const { id, head } = strand;
  switch (head.type) {
    case 'stack':
      return head.layers.map((layer, i) =>
        ofHead(layerAddress(id, layer, i), strand, layer.media, layerValues, layer, atRest),
      );
    case 'mix':
      return head.passes.map((pass, i) =>
        ofHead(mixedAddress(id, i), strand, pass.pass, mixedValues, pass as Holder),
      );
    case 'shapes':
      return head.shapes.map((shape) =>
        ofHead(shapeAddress(id, shape.id), strand, shape.name, shapeValues, shape, shapeAtRest),
      );
    case 'colour':
      return [ofHead(headAddress(id), strand, strand.name, colourValues, head)];
    case 'gradient':
      return [ofHead(headAddress(id), strand, strand.name, gradientValues, head)];
    default:
      return [];
  }
}

/** All of a document in the order of its strands: the head, then the steps. What a linked copy follows stands once. */
export const animatedOf = (doc: Finish): Animated[] =>
  doc.strands.flatMap((strand) => [
    ...ofHeads(strand),
    ...strand.steps.flatMap((step) => (step.follows === undefined ? [ofStep(strand, step)] : [])),
  ]);

/** By its address; of a linked copy its original. */
export function findAnimated(doc: Finish, address: string): Animated | undefined {
  const step = findStep(doc, address);
  if (step) {
    const original = originalOf(doc, step.step);
    return ofStep(findStep(doc, original.id)!.strand, original);
  }
  const [strandId, part] = address.split(':');
  for (const strand of doc.strands) {
    if (part !== undefined && strand.id !== strandId) continue;
    const found = ofHeads(strand).find((a) => a.id === address);
    if (found) return found;
    // A layer that got an id since is still where it was.
    const index = part?.startsWith('layer-') && strand.head.type === 'stack' ? Number(part.slice(6)) : -1;
    const layer = strand.head.type === 'stack' ? strand.head.layers[index] : undefined;
    if (layer)
      return ofHead(layerAddress(strand.id, layer, index), strand, layer.media, layerValues, layer, atRest);
  }
}

/** @throws {FinishError} where there is no such thing any more. */
export function animatedAt(doc: Finish, address: string): Animated {
  const found = findAnimated(doc, address);
  if (found) return found;
  throw new FinishError(`There is no step “${address}”`, 'edit', 'Reload the shot.');
}

/** What is selected on the board to see something that is animated: its step, or the strand at whose head it is. */
export function selectionOf(doc: Finish, address: string): string | undefined {
  return findStep(doc, address) ? address : findAnimated(doc, address)?.strand.id;
}

/** The value of one key on a frame. */
export const valueOn = (
  doc: Finish,
  { id, holder, specs, plain }: Animated,
  key: string,
  frame: number,
): Value => {
  const track = holder.animation?.[key];
  const drive = driveOn(doc, id, key, frame);
  return track || drive
    ? valueAt(track ?? {}, plain(key), specs[key], frame, doc.rate ?? usualRate, doc.guides, drive)
    : plain(key);
};

/** What the front of a recipe makes of a value of a step on a frame; undefined where none drives it. */
function driveOn(doc: Finish, id: string, key: string, frame: number): ((own: Value) => Value) | undefined {
  const driving = drivingOf(doc, id, key);
  if (!driving) return;
  const { use, front, drive } = driving;
  const now = valueOn(doc, ofStep(anywhere, use), front.id, frame);
  return (own) => driven(front, drive, now, own);
}

/** The values of a step, or of the one it follows, on a frame. */
export function valuesOn(doc: Finish, step: Step, frame: number): Values {
  const original = originalOf(doc, step);
  const { values, animation } = original;
  const drivings = drivingsOf(doc, original.id);
  if (!animation && !drivings && !isUse(original)) return values as Values;
  const animated = ofStep(anywhere, original);
  const now: Values = { ...(values as Values) };
  for (const key of Object.keys(animated.specs))
    if (animation?.[key] || drivings?.has(key) || !(key in now))
      now[key] = valueOn(doc, animated, key, frame);
  return now;
}

/** All of its values on a frame. */
export const allOn = (doc: Finish, animated: Animated, frame: number): Values =>
  Object.fromEntries(Object.keys(animated.specs).map((key) => [key, valueOn(doc, animated, key, frame)]));

/** A part of a head as it is on a frame, without tracks. */
function still<T extends Holder>(doc: Finish, part: T, make: (copy: T) => Animated, frame: number): T {
  const { animation } = part;
  if (!animation) return part;
  const { animation: _, ...rest } = part;
  const copy = rest as T;
  const [before, after] = [make(part), make(copy)];
  for (const key of Object.keys(animation)) after.put(key, valueOn(doc, before, key, frame));
  return copy;
}

/** A layer as it is on a frame: with the transform of the one that it follows. */
export function layerOn(doc: Finish, layer: Layer, frame: number): Layer {
  const make = (copy: Layer) => ofHead('', anywhere, '', layerValues, copy, atRest);
  const own = still(doc, layer, make, frame);
  if (layer.follows === undefined) return own;
  const leader = findLayer(doc, layer.follows);
  const transform = leader && still(doc, leader, make, frame).transform;
  const { follows: _, transform: __, ...rest } = own;
  return transform ? { ...rest, transform } : rest;
}

export const mixedOn = (doc: Finish, pass: MixedPass, frame: number): MixedPass =>
  still(doc, pass, (copy) => ofHead('', anywhere, '', mixedValues, copy as Holder), frame);

/** A shape as it is on a frame: with one path and one transform. */
export const shapeOn = (doc: Finish, shape: Shape, frame: number): Shape =>
  still(doc, shape, (copy) => ofHead('', anywhere, '', shapeValues, copy, shapeAtRest), frame);

/** A head as it is on a frame, without tracks. */
export function headOn<H extends Head>(doc: Finish, head: H, frame: number): H;
export function headOn(doc: Finish, head: Head, frame: number): Head {
  switch (head.type) {
    case 'stack':
      return { ...head, layers: head.layers.map((l) => layerOn(doc, l, frame)) };
    case 'mix':
      return { ...head, passes: head.passes.map((p) => mixedOn(doc, p, frame)) };
    case 'shapes':
      return { ...head, shapes: head.shapes.map((s) => shapeOn(doc, s, frame)) };
    case 'colour':
      return still(doc, head, (copy) => ofHead('', anywhere, '', colourValues, copy), frame);
    case 'gradient':
      return still(doc, head, (copy) => ofHead('', anywhere, '', gradientValues, copy), frame);
    default:
      return head;
  }
}
