import { FileError } from '../../file-error';
import type { BlockChannel } from '../blocks';
import { type PixelType, pixelTypes } from '../types';

/** How DWA stores a channel, by the last part of its name and its type. `colour` 0, 1, 2: red, green, blue of a set. */
export type Rule = {
  suffix: string;
  anyCase: boolean;
  type: PixelType;
  scheme: 'other' | 'transformed' | 'runs';
  colour: number;
};
const schemes = ['other', 'transformed', 'runs'] as const;

/** The rules of version 2 stand in each chunk. */
export function readRules(bytes: Uint8Array, offset: number): Rule[] {
  const rules: Rule[] = [];
  for (let at = 0; at < bytes.length; ) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 3 > bytes.length)
      throw new FileError('The rules of a DWA chunk end too early', offset);
    const suffix = new TextDecoder().decode(bytes.subarray(at, end));
    const [flags, type] = [bytes[end + 1], pixelTypes[bytes[end + 2]]];
    const [scheme, colour] = [schemes[(flags >> 2) & 3], (flags >> 4) - 1];
    if (!type || !scheme || colour > 2) throw new FileError('A rule of a DWA chunk is invalid', offset + at);
    rules.push({ suffix, anyCase: (flags & 1) !== 0, type, scheme, colour });
    at = end + 3;
  }
  return rules;
}

/** Before version 2 the rules were fixed. */
export const rulesBefore2: Rule[] = (
  [
    [['r', 'red'], 'transformed', 0],
    [['g', 'grn', 'green'], 'transformed', 1],
    [['b', 'blu', 'blue'], 'transformed', 2],
    [['y', 'by', 'ry'], 'transformed', -1],
    [['a'], 'runs', -1],
  ] as const
).flatMap(([suffixes, scheme, colour]) =>
  suffixes.flatMap((suffix) =>
    pixelTypes
      .filter((type) => scheme === 'runs' || type !== 'uint')
      .map((type) => ({ suffix, anyCase: true, type, scheme, colour })),
  ),
);

/** The rule that holds for a channel: the last one that fits. */
export function schemeOf(c: BlockChannel, rules: Rule[]): Pick<Rule, 'scheme' | 'colour'> {
  const suffix = c.name.slice(c.name.lastIndexOf('.') + 1);
  let found: Pick<Rule, 'scheme' | 'colour'> = { scheme: 'other', colour: -1 };
  for (const rule of rules) {
    const same = rule.anyCase ? suffix.toLowerCase() === rule.suffix.toLowerCase() : suffix === rule.suffix;
    if (same && rule.type === c.type) found = { scheme: rule.scheme, colour: rule.colour };
  }
  return found;
}
