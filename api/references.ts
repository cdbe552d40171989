import * as v from 'valibot';
import { rowId as id, nothing, route, wholeNumber } from './contract';

/** Reference pictures: stills that are looked at beside a shot. A browser makes them small enough before it sends them. */

const side = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(4096));
const described = {
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A reference has a name.'), v.maxLength(200)),
  width: side,
  height: side,
};
const reference = v.strictObject({ id, ...described });
export type Reference = v.InferOutput<typeof reference>;

/** `again`: the shot had the same picture before, under this name. */
const addedReference = v.strictObject({ id, name: v.string(), again: v.boolean() });
export type AddedReference = v.InferOutput<typeof addedReference>;

/** A shot has at most so many. */
export const mostReferences = 24;
const mostLetters = 6_000_000;

const shot = { shot: wholeNumber };
export const listReferences = route('GET', '/api/shots/:shot/references', {
  params: shot,
  answer: v.array(reference),
});
export const addReference = route('POST', '/api/shots/:shot/references', {
  params: shot,
  body: v.strictObject({
    ...described,
    webp: v.pipe(
      v.string(),
      v.maxLength(mostLetters, 'This picture is too large for a reference.'),
      v.regex(/^UklGR[A-Za-z0-9+/]*={0,2}$/, 'A reference is sent as a WebP picture in Base64.'),
    ),
  }),
  answer: addedReference,
});
const one = { reference: wholeNumber };
export const deleteReference = route('DELETE', '/api/references/:reference', {
  params: one,
  answer: nothing,
});
export const readReference = route('GET', '/api/references/:reference', { params: one, answer: 'bytes' });
