import * as v from 'valibot';
import { limits } from '../formats/limits';
import { coverOperations } from '../kernels/cover';
import { layerModes } from '../kernels/stack';
import { fillRules } from '../math/fill-rule';

/** Heads: the possible starts of a strand. */

export const name = v.pipe(v.string(), v.trim(), v.minLength(1, 'a name is missing'), v.maxLength(200));
export const finite = v.pipe(v.number(), v.finite());
export const id = v.pipe(
  v.string(),
  v.regex(/^[a-z0-9][a-z0-9-]{0,63}$/, 'an id is small letters, digits and dashes'),
);
const share = v.pipe(finite, v.minValue(0), v.maxValue(1));
const colour = v.pipe(v.tuple([finite, finite, finite]), v.readonly());
/** After a step of a strand, after its head, or at its end. */
export const after = v.union([v.literal('head'), v.literal('end'), id]);

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
  within: v.optional(
    v.strictObject({ strand: id, after, as: v.optional(v.picklist(['alpha', 'luminance'])) }),
  ),
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
});

/** From one colour to another along an angle, degrees counter-clockwise from +x. */
const gradientHead = v.strictObject({
  type: v.literal('gradient'),
  from: colour,
  fromAlpha: v.optional(share, 1),
  to: colour,
  toAlpha: v.optional(share, 1),
  angle: v.optional(finite, 90),
});

/** Another strand, split off after one of its places: what is done above it is shared. */
const tapHead = v.strictObject({ type: v.literal('tap'), strand: id, after });

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
  ranks: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(16)), 3),
  /** Names, patterns of names with * and ?, numbers, or colours as #rrggbb. */
  objects: v.array(v.pipe(v.string(), v.minLength(1), v.maxLength(500))),
  /** The alpha of this pass softens the edges, where the ids have no coverage of their own. */
  edges: v.optional(passHead),
});

const offset = v.pipe(v.tuple([finite, finite]), v.readonly());
const point = v.strictObject({
  x: finite,
  y: finite,
  /** Handles of the cubics that come in and go out, from the point. */
  in: v.optional(offset),
  out: v.optional(offset),
  /** Softness here, beside the shape's. */
  feather: v.optional(v.pipe(finite, v.minValue(0))),
});
const frame = v.pipe(v.number(), v.integer());
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
  /** Changes of its path and place get keys on the frame they are made on. */
  animated: v.optional(v.literal(true)),
  /** The path at frames, in their order; between them it is interpolated, before and after it holds. */
  paths: v.pipe(
    v.array(
      v.strictObject({
        frame,
        points: v.pipe(v.array(point), v.minLength(2), v.maxLength(limits.pathPoints)),
      }),
    ),
    v.minLength(1, 'a shape needs a path'),
  ),
  /** Pivot of rotation and scale; the middle of the first path if not set. */
  pivot: v.optional(offset),
  /** Keys of the transform: movement (pixels, x to the right, y upwards), rotation (degrees counter-clockwise), scale. */
  transforms: v.optional(
    v.array(
      v.strictObject({
        frame,
        moveX: finite,
        moveY: finite,
        rotate: finite,
        scale: v.pipe(finite, v.minValue(0.001)),
      }),
    ),
    [],
  ),
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
  idsHead,
  shapesHead,
]);

export type Head = v.InferOutput<typeof headSchema>;
export type PassHead = v.InferOutput<typeof passHead>;
export type StackHead = v.InferOutput<typeof stackHead>;
export type MixHead = v.InferOutput<typeof mixHead>;
export type MixedPass = MixHead['passes'][number];
export type TapHead = v.InferOutput<typeof tapHead>;
export type IdsHead = v.InferOutput<typeof idsHead>;
export type ShapesHead = v.InferOutput<typeof shapesHead>;
export type Shape = v.InferOutput<typeof shape>;
export type ShapeTransform = Shape['transforms'][number];
export type Layer = StackHead['layers'][number];
export type LayerTransform = v.InferOutput<typeof layerTransform>;
