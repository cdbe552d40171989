import type { SampleType } from './samples';

/** Kinds of passes. */
export const passKinds = {
  picture: 'picture',
  emission: 'emission',
  alpha: 'alpha',
  depth: 'depth',
  mist: 'mist, 0 to 1',
  normal: 'normal',
  position: 'position',
  motion: 'motion vector',
  facing: 'facing',
  id: 'object id',
  'id-matte': 'id matte',
  data: 'data',
} as const;
export type PassKind = keyof typeof passKinds;

/** A pass of a kind in a sentence: “a depth pass”. */
export const aPass = (kind: PassKind): string =>
  `${/^[aeiou]/.test(passKinds[kind]) ? 'an' : 'a'} ${passKinds[kind]} pass`;

/** Use of a pass of each kind, in one line. */
export const passUses: Record<PassKind, string> = {
  picture: 'A strand’s picture, or the light of a light step.',
  emission: 'The light of a light step: lamps and nothing else.',
  alpha: 'A matte: where light may land.',
  depth: 'Mist and softness by distance.',
  mist: 'Mist, or a matte that grows with distance.',
  normal: 'Mattes by the angle to the camera.',
  position: 'Mist by height, mattes by place.',
  motion: 'Smear along the movement.',
  facing: 'A matte of surfaces that turn away.',
  id: 'Mattes by object.',
  'id-matte': 'Mattes by object, with soft edges.',
  data: 'Numbers of its own; look at its range.',
};

/** What the numbers of a pass are called: axes of vectors, else the last part of each channel's name. */
export const channelNames = ({
  kind,
  channels,
}: {
  kind: PassKind;
  channels: readonly string[];
}): string[] =>
  kind === 'normal' || kind === 'position' || kind === 'motion'
    ? channels.map((_, i) => 'XYZW'[i] ?? String(i))
    : channels.map((c) => c.slice(c.lastIndexOf('.') + 1));

/** Words of a name: `shot.DiffDir_02` is diff, dir; digits and marks only part them. */
export const wordsOf = (name: string): string[] =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Z]+)([A-Z][a-z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter(Boolean);

type Rule = { kind: PassKind; any: RegExp; channels?: (count: number) => boolean };

/** By the words that renderers and their users share for a thing, the most specific first (common practice). */
const rules: Rule[] = [
  { kind: 'motion', any: /^(motion|velocity|vectors?|mv|flow|speed)$/ },
  { kind: 'normal', any: /^(n|nn|normals?|nrm|norm)$/, channels: (n) => n >= 2 },
  { kind: 'position', any: /^(p|pos|position|point|pworld|pref)$/, channels: (n) => n >= 2 },
  { kind: 'mist', any: /^(mist|fog|haze)$/, channels: (n) => n === 1 },
  { kind: 'depth', any: /^(z|depth|zdepth|distance|dist)$/, channels: (n) => n <= 4 },
  { kind: 'facing', any: /^(facing|fresnel|ratio)$/, channels: (n) => n === 1 },
  { kind: 'id', any: /^(ids?|index|oid|mid)$/, channels: (n) => n === 1 },
  { kind: 'emission', any: /^(emission|emissive|emit|emittance|incandescence|selfillum(ination)?|illum)$/ },
  { kind: 'alpha', any: /^(alpha|coverage|mask|matte|opacity)$/, channels: (n) => n === 1 },
];

/**
 * What a pass is for, by its layer's name, the last parts of its channels' names, and their types. `layer` is '' for the
 * unnamed layer.
 */
export function kindOf(layer: string, parts: string[], types: SampleType[]): PassKind {
  const count = parts.length;
  const only = count === 1 ? parts[0].toLowerCase() : '';
  if (types.every((t) => t === 'uint')) return 'id';
  const words = wordsOf(layer.split('.').pop() ?? layer);
  for (const { kind, any, channels } of rules) {
    if (words.some((w) => any.test(w)) && (channels?.(count) ?? true)) return kind;
  }
  if (only === 'z') return 'depth';
  if (only === 'a') return 'alpha';
  const colour = parts.some((p) => /^(r|red)$/i.test(p)) || (only === 'y' && layer === '');
  const luma = parts.includes('Y') && parts.includes('RY') && parts.includes('BY');
  return colour || luma ? 'picture' : 'data';
}

/** Strands that begin at a pass carry a picture, or data that must not be filtered as colour. */
export const strandKindOf = (kind: PassKind): 'picture' | 'data' =>
  ['picture', 'emission', 'alpha', 'mist', 'facing'].includes(kind) ? 'picture' : 'data';
