/** Colour decision lists of the ASC, version 1.2: `.cc` (one), `.ccc` (a collection) and `.cdl` (a list of decisions). */

/** Slope, offset and power of red, green and blue, and saturation. */
export type Cdl = {
  id: string;
  slope: readonly [number, number, number];
  offset: readonly [number, number, number];
  power: readonly [number, number, number];
  saturation: number;
};

const longest = 4 * 2 ** 20;

function triple(what: string, text: string | undefined, rest: number): [number, number, number] {
  if (text === undefined) return [rest, rest, rest];
  const numbers = text.trim().split(/\s+/).map(Number);
  if (numbers.length !== 3 || !numbers.every(Number.isFinite))
    throw new Error(`${what} is “${text.trim().slice(0, 40)}”. It takes three numbers, red, green and blue.`);
  return numbers as [number, number, number];
}

/**
 * The corrections of a file, in their order. What one leaves out is as the standard has it: slope 1, offset 0, power 1, saturation 1.
 * @throws {Error} naming what is wrong.
 */
export function readCdl(text: string): Cdl[] {
  if (text.length > longest) throw new Error('It is too long for a colour decision list.');
  const bare = text.replace(/<!--[\s\S]*?-->/g, '');
  const found = [
    ...bare.matchAll(/<(?:\w+:)?ColorCorrection\b([^>]*)>([\s\S]*?)<\/(?:\w+:)?ColorCorrection>/g),
  ];
  if (found.length === 0)
    throw new Error('There is no ColorCorrection in it. Open a .cc, .ccc or .cdl file of the ASC.');
  return found.map(([, attributes, body], i) => {
    const value = (name: string) =>
      new RegExp(`<(?:\\w+:)?${name}\\b[^>]*>([^<]*)</(?:\\w+:)?${name}>`).exec(body)?.[1];
    const id = /\bid\s*=\s*"([^"]*)"/.exec(attributes)?.[1] || `correction-${i + 1}`;
    const slope = triple(`Slope of ${id}`, value('Slope'), 1);
    const power = triple(`Power of ${id}`, value('Power'), 1);
    if (slope.some((v) => v < 0)) throw new Error(`Slope of ${id} is below 0.`);
    if (power.some((v) => v <= 0)) throw new Error(`Power of ${id} is not above 0.`);
    const saturation = Number(value('Saturation') ?? 1);
    if (!Number.isFinite(saturation) || saturation < 0)
      throw new Error(`Saturation of ${id} is no number from 0 up.`);
    return { id, slope, offset: triple(`Offset of ${id}`, value('Offset'), 0), power, saturation };
  });
}

const clean = (text: string) => text.replace(/[<>&"]/g, ' ');
const line = (numbers: readonly number[]) => numbers.map((n) => Number(n.toFixed(6))).join(' ');

const correction = ({ id, slope, offset, power, saturation }: Cdl, indent: string, root = '') =>
  [
    `<ColorCorrection id="${clean(id)}"${root}>`,
    '  <SOPNode>',
    `    <Slope>${line(slope)}</Slope>`,
    `    <Offset>${line(offset)}</Offset>`,
    `    <Power>${line(power)}</Power>`,
    '  </SOPNode>',
    '  <SatNode>',
    `    <Saturation>${line([saturation])}</Saturation>`,
    '  </SatNode>',
    '</ColorCorrection>',
  ]
    .map((text) => indent + text)
    .join('\n');

const namespace = ' xmlns="urn:ASC:CDL:v1.2"';
export const cdlKinds = { cc: 'One correction', ccc: 'Collection', cdl: 'Decision list' } as const;
export type CdlKind = keyof typeof cdlKinds;

/** Corrections as a file: of a `.cc` the first one. */
export function writeCdl(kind: CdlKind, all: readonly Cdl[]): string {
  const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
  if (kind === 'cc') return `${head}${correction(all[0], '', namespace)}\n`;
  const root = kind === 'ccc' ? 'ColorCorrectionCollection' : 'ColorDecisionList';
  const inside = all
    .map((c) =>
      kind === 'ccc'
        ? correction(c, '  ')
        : `  <ColorDecision>\n${correction(c, '    ')}\n  </ColorDecision>`,
    )
    .join('\n');
  return `${head}<${root}${namespace}>\n${inside}\n</${root}>\n`;
}
