import * as v from 'valibot';
import type { NumberSpec, ValueSpec, ValueSpecs } from '../steps/shared/define';
import { type Interpolation, interpolations } from '../time/keys';
import { waveForms } from '../time/modulators';
import { after, declared, finite, id, name, offset, path, whole } from './basic-schema';

/** Schemas of values and of their tracks, generated from declarations. Each message is a whole sentence without its full stop. */

export const keyEntries = {
  frame: whole,
  /** How it goes on to the next key; eased if it is not said. */
  interpolation: v.optional(v.picklist(Object.keys(interpolations) as Interpolation[])),
  /** Handles of an ease in and out, from the key: frames and value. A third of the span, level, if they are not said. */
  in: v.optional(offset),
  out: v.optional(offset),
};
const guideKeys = v.pipe(
  v.array(v.strictObject({ ...keyEntries, value: finite })),
  v.minLength(1, 'A guide needs a place'),
  v.check(
    (list) => list.every((k, i) => i === 0 || list[i - 1].frame < k.frame),
    'Keys of a guide stand out of order',
  ),
);
const frames = v.optional(v.array(whole));
/** What a guide was measured of. */
const guideSource = v.variant('type', [
  /** The middle of what a strand covers, or of its light. */
  v.strictObject({ type: v.literal('middle'), strand: id, after }),
  /** The middle of what a light step takes. */
  v.strictObject({ type: v.literal('light'), step: id }),
  /** A place in the world, by the camera in the files; on which frames something is before it, and on which it is outside the picture. */
  v.strictObject({
    type: v.literal('scene'),
    media: name,
    pass: v.string(),
    place: v.pipe(v.tuple([finite, finite, finite]), v.readonly()),
    hidden: frames,
    outside: frames,
  }),
  /** A square of the picture at a point, as it was about a place on a frame, and how sure each frame was, 0 to 1. */
  v.strictObject({
    type: v.literal('patch'),
    strand: id,
    after,
    frame: whole,
    side: v.pipe(whole, v.minValue(5), v.maxValue(401)),
    renewed: v.optional(v.literal(true)),
    confidence: v.array(v.strictObject({ frame: whole, value: finite })),
  }),
]);
export type GuideSource = v.InferOutput<typeof guideSource>;
/** A place that moves, and what it was measured of. */
export const guideSchema = v.strictObject({
  id,
  name,
  x: guideKeys,
  y: guideKeys,
  source: v.optional(guideSource),
  /** It belongs to a recipe: the step of its use. */
  inside: v.optional(id),
});

const numberSchema = ({ from, to, whole }: NumberSpec, called: string) => {
  const bounds = `${called} lies between ${from} and ${to}`;
  const schema = v.pipe(
    v.number(`${called} takes a number`),
    v.minValue(from, bounds),
    v.maxValue(to, bounds),
  );
  return whole ? v.pipe(schema, v.integer(`${called} takes a whole number`)) : schema;
};

const colourSchema = (called: string) => {
  const part = v.pipe(
    v.number(`${called} takes three numbers, red, green and blue`),
    v.finite(`${called} takes finite numbers`),
    v.minValue(0, `${called} takes numbers from 0 up`),
  );
  return v.pipe(
    v.strictTuple([part, part, part], `${called} takes three numbers, red, green and blue`),
    v.readonly(),
  );
};

/** The schema of a value as it is declared; `called` is what messages call it. */
export function valueSchema(spec: ValueSpec, called: string = spec.name): v.GenericSchema {
  switch (spec.type) {
    case 'number':
      return numberSchema(spec, called);
    case 'toggle':
      return v.boolean(`${called} is true or false`);
    case 'choice': {
      const options = Object.keys(spec.options);
      return v.picklist(options, `${called} is one of ${options.join(', ')}`);
    }
    case 'text':
      return v.pipe(
        v.string(`${called} is a text`),
        v.maxLength(spec.longest, `${called} has at most ${spec.longest} letters`),
      );
    case 'colour':
      return colourSchema(called);
    case 'rows': {
      const columns = Object.values(spec.columns);
      const row = v.strictTuple(
        columns.map((c) => numberSchema(c, `${called} has a ${c.name.toLowerCase()} that is wrong: it`)),
        `${called} takes rows of ${columns.length} numbers`,
      );
      return v.pipe(
        v.array(v.pipe(row, v.readonly()), `${called} takes rows of ${columns.length} numbers`),
        v.maxLength(spec.most, `${called} takes at most ${spec.most} rows`),
        v.readonly(),
      );
    }
    case 'path':
      return path;
    case 'colours': {
      const count = `${called} takes 1 to ${spec.most} colours`;
      return v.pipe(
        v.array(colourSchema(`A colour of ${called}`), `${called} takes a list of colours`),
        v.minLength(1, count),
        v.maxLength(spec.most, count),
        v.readonly(),
      );
    }
  }
}

const rate = (called: string) =>
  v.pipe(
    v.number(`${called} takes a number`),
    v.minValue(0.001, `${called} is at least 0.001 hertz`),
    v.maxValue(240, `${called} is at most 240 hertz`),
  );
const depth = v.pipe(finite, v.minValue(0, 'A depth is not below 0'));
const seed = v.pipe(v.number(), v.integer('A seed is a whole number'), v.minValue(0), v.maxValue(99_999));
const roughness = v.pipe(finite, v.minValue(0), v.maxValue(1, 'Roughness is at most 1'));
export const modulatorSchema = v.variant(
  'type',
  [
    v.strictObject({
      type: v.literal('flicker'),
      rate: rate('The rate of a flicker'),
      depth,
      roughness,
      seed,
    }),
    v.strictObject({
      type: v.literal('wave'),
      form: v.picklist(Object.keys(waveForms) as (keyof typeof waveForms)[]),
      frequency: rate('The frequency of a wave'),
      depth,
      phase: finite,
    }),
    v.strictObject({ type: v.literal('drift'), rate: rate('The rate of a drift'), depth, seed }),
    v.strictObject({
      type: v.literal('level'),
      frame: whole,
      shares: v.pipe(
        v.array(v.pipe(v.tuple([whole, v.pipe(finite, v.minValue(0))]), v.readonly())),
        v.minLength(1, 'A level needs a share'),
        v.check(
          (list) => list.every(([f], i) => i === 0 || list[i - 1][0] < f),
          'Shares of a level stand out of order',
        ),
        v.readonly(),
      ),
    }),
  ],
  'There is no such modulator',
);
/** Modulators of one number. */
const mostModulators = 8;

const trackSchema = (spec: ValueSpec, called: string) => {
  const keys = v.optional(
    v.pipe(
      v.array(v.strictObject({ ...keyEntries, value: valueSchema(spec, called) })),
      v.minLength(1, 'keys are missing'),
      v.check(
        (list) => list.every((k, i) => i === 0 || list[i - 1].frame < k.frame),
        `Keys of ${spec.name} stand out of order`,
      ),
    ),
  );
  if (spec.type !== 'number')
    return v.strictObject(
      spec.type === 'colour' ? { keys, space: v.optional(v.literal('oklab')) } : { keys },
    );
  const modulators = v.optional(
    v.pipe(
      v.array(modulatorSchema),
      v.minLength(1, 'modulators are missing'),
      v.maxLength(mostModulators, `A number takes at most ${mostModulators} modulators`),
    ),
  );
  const follows = v.optional(v.strictObject({ guide: id, axis: v.picklist(['x', 'y']), offset: finite }));
  return v.strictObject({ keys, follows, modulators });
};

/** Tracks by the values they belong to; `of` is what messages call the thing that has them. */
export const animationSchema = (of: string, values: ValueSpecs) =>
  declared(
    Object.fromEntries(
      Object.entries(values).map(([key, spec]) => [
        key,
        v.optional(trackSchema(spec, `${spec.name} of ${of}`) as v.GenericSchema),
      ]),
    ),
    (key) => `${of} has no value “${key}” to put keys on`,
  );
