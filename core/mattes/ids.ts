import { decodeSrgb } from '../colour/srgb';
import type { IdsHead } from '../finish/heads';
import { idBits } from '../formats/id-mattes';
import type { Desk } from '../kernels/desk';
import { addRanked, channelOf, combine, flatIds } from '../kernels/plane';
import type { Picture } from '../picture/picture';

export const isPattern = (name: string) => /[*?]/.test(name);

/** A pattern of names: * stands for any letters, ? for one. */
const expressionOf = (pattern: string) =>
  new RegExp(
    `^${pattern
      .replace(/[.+^${}()|[\]\\]/g, '\\$&')
      .replace(/\*/g, '.*')
      .replace(/\?/g, '.')}$`,
    'i',
  );

/** The names that are meant: those of `known` that fit a pattern, and every plain one, known or not. */
export function namesMeant(objects: readonly string[], known: readonly string[]): string[] {
  const meant = objects.flatMap((o) =>
    isPattern(o) ? known.filter((name) => expressionOf(o).test(name)) : [o],
  );
  return [...new Set(meant)];
}

/** An object without a name is called by the bits of its id. */
export const idName = (bits: number) => `id:${bits.toString(16).padStart(8, '0')}`;
export const bitsOf = (name: string) =>
  /^id:[0-9a-f]{8}$/.test(name) ? Number.parseInt(name.slice(3), 16) >>> 0 : idBits(name);

/** A colour as a flat id pass holds it, from the way it is named: #rrggbb, in sRGB. */
const colourNamed = (name: string) =>
  [1, 3, 5].map((i) => decodeSrgb(Number.parseInt(name.slice(i, i + 2), 16) / 255));

/** Half of the least step that 8 bits of sRGB make in the light is far below this; so are halves of floats. */
const colourNear = 4e-3;

/**
 * The matte of an ids head. Ranked: the sum of the coverage that the ranks give to the chosen ids (open id-matte specification 1.2). A
 * number or a flat colour a pixel: 1 where it is chosen, times the alpha of `edges` if that is given.
 */
export function idsMatte(
  desk: Desk,
  head: IdsHead,
  passes: readonly Picture[],
  known: readonly string[],
  edges?: Picture,
): Picture {
  const [first] = passes;
  if (head.sort === 'ranked') {
    const out = desk.blank(first.width, first.height, 1);
    const ids = namesMeant(head.objects, known).map(bitsOf);
    if (ids.length > 0) for (const ranks of passes) addRanked(desk, out, ranks, ids);
    return out;
  }
  const values =
    head.sort === 'number'
      ? head.objects
          .map(Number)
          .filter(Number.isFinite)
          .map((n) => [n])
      : head.objects.filter((o) => /^#[0-9a-f]{6}$/i.test(o)).map(colourNamed);
  const flat =
    values.length === 0
      ? desk.blank(first.width, first.height, 1)
      : flatIds(desk, first, values, head.sort === 'number' ? 0.25 : colourNear);
  return edges ? combine(desk, flat, channelOf(desk, edges, 3), 'multiply') : flat;
}
