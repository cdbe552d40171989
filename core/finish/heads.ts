import * as v from 'valibot';
import { type PassKind, passKinds } from '../formats/pass-kinds';
import { coverOperations } from '../kernels/cover';
import { layerModes } from '../kernels/stack';
import { fillRules } from '../math/fill-rule';
import type { ValueSpecs } from '../steps/shared/define';
import type { Track } from '../time/track';
import { after, finite, id, name, offset, path, share, whole } from './basic-schema';
import { colourValues, gradientValues, layerValues, mixedValues, shapeValues } from './head-values';
import { tapSchema } from './step-schema';
import { animationSchema } from './track-schema';

/** Heads: the possible starts of a strand. */

const colour = v.pipe(v.tuple([finite, finite, finite]), v.readonly());

/** How values of a head, or of a part of it, change over time. */
const animation = (of: string, values: ValueSpecs) =>
  v.optional(animationSchema(of, values) as v.GenericSchema<unknown, Record<string, Track>>);

const passHead = v.strictObject({
  type: v.literal('pass'),
  /** The media by the name it has in the shot. */
  media: name,
  /** The pass by its layer name; '' is the unnamed layer. */
  pass: v.string(),
});

/** Transform of a layer: movement (pixels, to the right and upwards), rotation (degrees counter-clockwise) and scale, about a pivot from the middle. */
const layerTransform = v.strictObject({
  moveX: v.optional(finite, 0),
  moveY: v.optional(finite, 0),
  rotate: v.optional(finite, 0),
  scale: v.optional(v.pipe(finite, v.minValue(0.01), v.maxValue(100)), 1),
  pivotX: v.optional(finite, 0),
  pivotY: v.optional(finite, 0),
});

const layer = v.strictObject({
  media: name,
  pass: v.optional(v.string(), ''),
  show: v.optional(v.boolean(), true),
  /** While any layer has it, only those that have it are shown. */
  solo: v.optional(v.literal(true)),
  opacity: v.optional(share, 1),
  /** How it goes onto the layers below; over them if it is not said. */
  mode: v.optional(v.picklist(layerModes)),
  transform: v.optional(layerTransform),
  /** By which others can follow it. */
  id: v.optional(id),
  /** It uses the transform of this other layer, in any stack. */
  follows: v.optional(id),
  /** Pulled out: what stands here is the end of a strand of its own, which begins at the pass. */
  from: v.optional(v.strictObject({ strand: id, after })),
  animation: animation('a layer', layerValues),
});

/** Drawing layers, the lowest first, each onto the ones before it. */
const stackHead = v.strictObject({
  type: v.literal('stack'),
  layers: v.pipe(v.array(layer), v.minLength(1, 'a stack needs a layer')),
});

const mixedPass = v.strictObject({
  /** The pass by its layer name. */
  pass: v.string(),
  gain: v.optional(v.pipe(finite, v.minValue(0), v.maxValue(1000)), 1),
  /** Multiplies it channel by channel; white if it is not said. */
  tint: v.optional(colour),
  off: v.optional(v.literal(true)),
  /** While any pass has it, only those that have it count. */
  solo: v.optional(v.literal(true)),
  /** The matte inside which alone gain and tint hold; elsewhere the pass is as it was rendered. */
  within: v.optional(tapSchema),
  animation: animation('a pass of a mix', mixedValues),
});

/** The sum of passes of light of one media. */
const mixHead = v.strictObject({
  type: v.literal('mix'),
  media: name,
  passes: v.pipe(v.array(mixedPass), v.minLength(1, 'a mix needs a pass'), v.maxLength(64)),
  /** The pass that all of them should add up to: its alpha is taken, and what it has beyond the sum can be seen. */
  beauty: v.optional(v.string()),
  show: v.optional(v.picklist(['sum', 'residual'])),
});

/** One colour everywhere, in linear light, not multiplied by its alpha. As large as the shot's picture. */
const colourHead = v.strictObject({
  type: v.literal('colour'),
  colour,
  alpha: v.optional(share, 1),
  animation: animation('a colour', colourValues),
});

/** From one colour to another along an angle, degrees counter-clockwise from +x. */
const gradientHead = v.strictObject({
  type: v.literal('gradient'),
  from: colour,
  fromAlpha: v.optional(share, 1),
  to: colour,
  toAlpha: v.optional(share, 1),
  angle: v.optional(finite, 90),
  animation: animation('a gradient', gradientValues),
});

/** Another strand, split off after one of its places: what is done above it is shared. */
const tapHead = v.strictObject({ type: v.literal('tap'), strand: id, after });

/**
 * What is linked here, as the kind that the strand carries; nothing, where nothing is linked. Strands that begin so inside a recipe are its slots.
 */
const inputHead = v.strictObject({
  type: v.literal('input'),
  from: v.optional(tapSchema),
  /** What is meant to be linked here, for whoever uses the recipe. */
  description: v.optional(v.pipe(v.string(), v.maxLength(300))),
  /** The kind of pass that belongs here. */
  pass: v.optional(v.picklist(Object.keys(passKinds) as PassKind[])),
});

/** How an id pass holds its ids: ranked pairs of id and coverage, one number a pixel, or one flat colour a pixel. */
export const idFormats = ['ranked', 'number', 'colour'] as const;

/** A matte of chosen objects of an id pass. */
const idsHead = v.strictObject({
  type: v.literal('ids'),
  media: name,
  /** The id-matte by its layer's name, without the digits of its ranks; or the pass. */
  pass: v.string(),
  idFormat: v.picklist(idFormats),
  /** How many layers of two ranks each a ranked pass has. */
  ranks: v.optional(v.pipe(whole, v.minValue(1), v.maxValue(16)), 3),
  /** Names, patterns of names with * and ?, numbers, or colours as #rrggbb. */
  objects: v.array(v.pipe(v.string(), v.minLength(1), v.maxLength(500))),
  /** The alpha of this pass softens the edges, where the ids have no coverage of their own. */
  edges: v.optional(passHead),
});

/** Transform of a shape: movement (pixels, x to the right, y upwards), rotation (degrees counter-clockwise), scale. */
const shapeTransform = v.strictObject({
  moveX: finite,
  moveY: finite,
  rotate: finite,
  scale: v.pipe(finite, v.minValue(0.001)),
});
/** A closed path of cubic Béziers in pixels of the full frame, (0, 0) its upper left corner, y downwards. */
const shape = v.strictObject({
  id,
  name,
  operation: v.optional(v.picklist(coverOperations), 'add'),
  /** Fill rule of a path that crosses itself (SVG's fill-rule); nonzero if not set. */
  fillRule: v.optional(v.picklist(fillRules)),
  hidden: v.optional(v.literal(true)),
  opacity: v.optional(share, 1),
  feather: v.optional(v.pipe(finite, v.minValue(0), v.maxValue(4096)), 0),
  path,
  /** Pivot of rotation and scale; the middle of the path if not set. */
  pivot: v.optional(offset),
  transform: v.optional(shapeTransform),
  animation: animation('a shape', shapeValues),
});

/** A matte of drawn shapes, one after the other. */
const shapesHead = v.strictObject({ type: v.literal('shapes'), shapes: v.array(shape) });

export const headSchema = v.variant('type', [
  passHead,
  stackHead,
  mixHead,
  colourHead,
  gradientHead,
  tapHead,
  inputHead,
  idsHead,
  shapesHead,
]);

export type Head = v.InferOutput<typeof headSchema>;
export type PassHead = v.InferOutput<typeof passHead>;
export type StackHead = v.InferOutput<typeof stackHead>;
export type MixHead = v.InferOutput<typeof mixHead>;
export type MixedPass = MixHead['passes'][number];
export type TapHead = v.InferOutput<typeof tapHead>;
export type InputHead = v.InferOutput<typeof inputHead>;
export type IdsHead = v.InferOutput<typeof idsHead>;
export type ShapesHead = v.InferOutput<typeof shapesHead>;
export type Shape = v.InferOutput<typeof shape>;
export type ShapeTransform = v.InferOutput<typeof shapeTransform>;
export type Layer = StackHead['layers'][number];
export type LayerTransform = v.InferOutput<typeof layerTransform>;
