import * as v from 'valibot';
import { type Encoding, encodings } from '../core/colour/encoding';
import { idFormats } from '../core/finish/heads';
import { type GapRule, gapRules } from '../core/formats/gap-rules';
import { type PassKind, passKinds } from '../core/formats/pass-kinds';
import { route, wholeNumber } from './contract';

/** Media of a shot and their frames: how they are read, what is in them, their samples and small pictures. */

const keysOf = <K extends string>(record: Record<K, unknown>) => Object.keys(record) as [K, ...K[]];
export const encoding = v.picklist(keysOf<Encoding>(encodings));
export const gapRule = v.picklist(keysOf<GapRule>(gapRules));
const passKind = v.picklist(keysOf<PassKind>(passKinds));
const sampleType = v.picklist(['uint8', 'uint16', 'uint', 'half', 'float']);

export const pass = v.strictObject({
  name: v.string(),
  label: v.string(),
  kind: passKind,
  part: v.number(),
  channels: v.array(v.string()),
  types: v.array(sampleType),
});

export const frameState = v.strictObject({
  frame: v.number(),
  /** `partial`: some of its file is there, and can be looked at; it is whole once more comes. */
  state: v.picklist(['ready', 'partial', 'failed']),
  problem: v.nullable(v.string()),
  content: v.string(),
  /** As large as its file is. */
  bytes: v.number(),
  /** Another size, or other passes, than the media's first frame. */
  differs: v.nullable(v.string()),
});
export type FrameState = v.InferOutput<typeof frameState>;

export const mediaDetail = v.strictObject({
  id: v.number(),
  name: v.string(),
  pattern: v.string(),
  /** One file without a number: it is used on every frame. */
  still: v.boolean(),
  first: v.number(),
  last: v.number(),
  encoding: v.nullable(encoding),
  gaps: gapRule,
  kinds: v.nullable(v.record(v.string(), passKind)),
  frames: v.array(frameState),
  passes: v.array(pass),
});
export type MediaDetail = v.InferOutput<typeof mediaDetail>;

const frameAt = { media: wholeNumber, frame: wholeNumber };
/** Tells one content of a frame from another; an answer to an address that has it may be kept for good. */
const content = v.optional(v.string());

export const changeMedia = route('PATCH', '/api/media/:media', {
  params: { media: wholeNumber },
  body: v.strictObject({
    gaps: v.optional(gapRule),
    encoding: v.optional(v.nullable(encoding)),
    kinds: v.optional(v.record(v.string(), passKind)),
  }),
  answer: v.strictObject({}),
});

const scale = v.pipe(
  v.string(),
  v.transform(Number),
  v.number(),
  v.check((s) => s > 0 && s <= 1, 'A scale lies above 0 and is at most 1.'),
);
/** Samples of a pass, plane after plane, or with `scale` below 1 RGBA floats of a draft; `x-zafiro-pass` describes them. */
export const readPass = route('GET', '/api/media/:media/frames/:frame/pass', {
  params: frameAt,
  query: { name: v.optional(v.string(), ''), scale: v.optional(scale), content },
  answer: 'bytes',
});

export const readThumbnail = route('GET', '/api/media/:media/frames/:frame/small-picture', {
  params: frameAt,
  query: { content },
  answer: 'bytes',
});

const idFormat = v.picklist(idFormats, 'Name an id pass and how it holds its ids.');
const objectShare = v.strictObject({ name: v.string(), share: v.number() });
export type ObjectShare = v.InferOutput<typeof objectShare>;
export const listObjects = route('GET', '/api/media/:media/frames/:frame/objects', {
  params: frameAt,
  query: { pass: v.string('Name an id pass and how it holds its ids.'), idFormat: idFormat, content },
  answer: v.array(objectShare),
});

/** The object at a pixel of the display window: its name, or its number if it has none. */
const objectAnswer = v.strictObject({ name: v.nullable(v.string()), id: v.nullable(v.number()) });
export type ObjectAnswer = v.InferOutput<typeof objectAnswer>;
export const readObject = route('GET', '/api/media/:media/frames/:frame/object', {
  params: frameAt,
  query: {
    x: wholeNumber,
    y: wholeNumber,
    pass: v.optional(v.string()),
    idFormat: v.optional(idFormat),
    content,
  },
  answer: objectAnswer,
});

/** Metadata of a frame's file: names of objects by id matte, the camera position, and its projection. */
export const readFrameMetadata = route('GET', '/api/media/:media/frames/:frame/metadata', {
  params: frameAt,
  query: { content },
  answer: v.strictObject({
    objects: v.record(v.string(), v.array(v.string())),
    unreadable: v.optional(v.record(v.string(), v.string())),
    camera: v.optional(v.pipe(v.tuple([v.number(), v.number(), v.number()]), v.readonly())),
    /** From the world to the picture: four by four numbers for row vectors. */
    projection: v.optional(v.pipe(v.array(v.number()), v.length(16), v.readonly())),
  }),
});

const span = v.tuple([v.number(), v.number()]);
const passContents = v.strictObject({
  pass,
  content: v.strictObject({
    ranges: v.array(v.nullable(span)),
    middle: v.nullable(span),
    empty: v.number(),
    notFinite: v.number(),
    idCount: v.optional(v.number()),
  }),
  names: v.optional(
    v.strictObject({
      named: v.number(),
      manifest: v.picklist(['header', 'file', 'missing']),
      problem: v.optional(v.string()),
    }),
  ),
  width: v.number(),
  height: v.number(),
  partial: v.optional(v.string()),
});
export type PassContents = v.InferOutput<typeof passContents>;
export const readContents = route('GET', '/api/media/:media/frames/:frame/contents', {
  params: frameAt,
  answer: v.array(passContents),
});
/** The picture of the n-th of them. */
export const readContentsPicture = route('GET', '/api/media/:media/frames/:frame/contents/:pass', {
  params: { ...frameAt, pass: wholeNumber },
  /** `soon`: not waited for until the frame is read. */
  query: { stamp: v.optional(v.string()), soon: v.optional(v.string()) },
  answer: 'bytes',
});
