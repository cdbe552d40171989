import type { PathPoint } from '../math/path';
import outlines from './outlines.json';

/** Fonts that ship with Zafiro (both under the SIL Open Font License). */
export const typefaces = { sans: 'Sans (Inter)', serif: 'Serif (EB Garamond)' } as const;
export type Typeface = keyof typeof typefaces;

type Font = {
  unitsPerEm: number;
  ascender: number;
  descender: number;
  /** Advance and path of a character, in font units, y upwards. */
  glyphs: Record<string, [number, string]>;
  kerning: Record<string, number>;
};
const fonts = outlines as unknown as Record<Typeface, Font>;

/** Closed paths of a glyph's outline, as the build writes it: M and L with a point, C with three, Z. */
function contoursOf(path: string): PathPoint[][] {
  const contours: PathPoint[][] = [];
  const words = path.split(' ');
  let now: PathPoint[] = [];
  let i = 0;
  const number = () => Number(words[++i]);
  for (; i < words.length; i++) {
    switch (words[i]) {
      case 'M':
        now = [{ x: number(), y: number() }];
        contours.push(now);
        break;
      case 'L':
        now.push({ x: number(), y: number() });
        break;
      case 'C': {
        const last = now[now.length - 1];
        const [x1, y1, x2, y2, x, y] = [number(), number(), number(), number(), number(), number()];
        now[now.length - 1] = { ...last, out: [x1 - last.x, y1 - last.y] };
        now.push({ x, y, in: [x2 - x, y2 - y] });
        break;
      }
    }
  }
  return contours;
}

export type TextLook = {
  font: Typeface;
  /** Height of the font's em, in pixels. */
  size: number;
  /** Added between letters, in parts of the em. */
  spacing: number;
  /** Distance of base lines, in parts of the em. */
  leading: number;
  align: 'left' | 'middle' | 'right';
};

/** A text as closed paths in pixels, y downwards, about (0, 0): the middle of its lines, and the edge or middle of each by `align`. */
export function letters(
  text: string,
  { font: name, size, spacing, leading, align }: TextLook,
): PathPoint[][] {
  const font = fonts[name];
  const scale = size / font.unitsPerEm;
  const lines = text.split('\n');
  const capital = font.ascender * 0.72;
  return lines.flatMap((line, row) => {
    const characters = [...line.normalize('NFC')].map((c) => (font.glyphs[c] ? c : '?'));
    let pen = 0;
    const placed = characters.map((c, i) => {
      const kern = i > 0 ? (font.kerning[characters[i - 1] + c] ?? 0) : 0;
      const x = pen + kern;
      pen = x + font.glyphs[c][0] + spacing * font.unitsPerEm;
      return { c, x };
    });
    const length = Math.max(0, pen - spacing * font.unitsPerEm);
    const left = align === 'left' ? 0 : align === 'middle' ? -length / 2 : -length;
    const base = ((row - (lines.length - 1) / 2) * leading * font.unitsPerEm + capital / 2) * scale;
    return placed.flatMap(({ c, x }) =>
      contoursOf(font.glyphs[c][1]).map((contour) =>
        contour.map((p) => ({
          x: (p.x + x + left) * scale,
          y: base - p.y * scale,
          ...(p.in ? { in: [p.in[0] * scale, -p.in[1] * scale] as const } : {}),
          ...(p.out ? { out: [p.out[0] * scale, -p.out[1] * scale] as const } : {}),
        })),
      ),
    );
  });
}
