import { decodeSrgb } from '../colour/srgb';
import type { IdsHead } from '../finish/heads';
import { idBits } from '../formats/id-mattes';
import { addRanked, channelOf, combine, flatIds } from '../kernels/plane';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';

export const isPattern = (name: string) => /[*?]/.test(name);

/**
 * Whether a name fits a pattern: * stands for any letters, ? for one; small and large letters are the same. In time that grows with the product of
 * the two lengths at most, whatever stars there are.
 */
export function fitsPattern(pattern: string, name: string): boolean {
  const [p, n] = [pattern.toLowerCase(), name.toLowerCase()];
  let [i, j] = [0, 0];
  // Where the last star stands, and how many letters it has taken so far.
  let [star, taken] = [-1, 0];
  while (j < n.length) {
    if (i < p.length && (p[i] === '?' || p[i] === n[j]) && p[i] !== '*') {
      i++;
      j++;
    } else if (p[i] === '*') {
      star = i++;
      taken = j;
    } else if (star >= 0) {
      i = star + 1;
      j = ++taken;
    } else return false;
  }
  while (p[i] === '*') i++;
  return i === p.length;
}

/** The names that are meant: those of `known` that fit a pattern, and every plain one, known or not. */
export function namesMeant(objects: readonly string[], known: readonly string[]): string[] {
  const meant = objects.flatMap((o) => (isPattern(o) ? known.filter((name) => fitsPattern(o, name)) : [o]));
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
  workspace: Workspace,
  head: IdsHead,
  passes: readonly Picture[],
  known: readonly string[],
  edges?: Picture,
): Picture {
  const [first] = passes;
  if (head.idFormat === 'ranked') {
    const out = workspace.blank(first.width, first.height, 1);
    const ids = namesMeant(head.objects, known).map(bitsOf);
    if (ids.length > 0) for (const ranks of passes) addRanked(workspace, out, ranks, ids);
    return out;
  }
  const values =
    head.idFormat === 'number'
      ? head.objects
          .map(Number)
          .filter(Number.isFinite)
          .map((n) => [n])
      : head.objects.filter((o) => /^#[0-9a-f]{6}$/i.test(o)).map(colourNamed);
  const flat =
    values.length === 0
      ? workspace.blank(first.width, first.height, 1)
      : flatIds(workspace, first, values, head.idFormat === 'number' ? 0.25 : colourNear);
  return edges ? combine(workspace, flat, channelOf(workspace, edges, 3), 'multiply') : flat;
}
