/** Outlines of the fonts that captions are set in, read from their packages into one file for the core. */
import { readFileSync, writeFileSync } from 'node:fs';
import opentype from 'opentype.js';

const fonts = {
  sans: { package: 'inter', weight: 500 },
  serif: { package: 'eb-garamond', weight: 500 },
};
/** Latin scripts and the usual punctuation. */
const wanted = (code) =>
  (code >= 0x20 && code < 0x180) ||
  (code >= 0x2010 && code <= 0x203a) ||
  code === 0x20ac ||
  code === 0x2122 ||
  code === 0x2212 ||
  code === 0x2190 ||
  code === 0x2192;

/** A glyph's path in whole font units: M and L with a point, C with three, Z; quadratic curves become cubic. */
function pathOf(glyph) {
  let [x, y] = [0, 0];
  const r = Math.round;
  return glyph.path.commands
    .map((c) => {
      const from = [x, y];
      if (c.type !== 'Z') [x, y] = [c.x, c.y];
      switch (c.type) {
        case 'Q': {
          const third = (p, i) => r(p + (2 / 3) * ([c.x1, c.y1][i] - p));
          return `C ${third(from[0], 0)} ${third(from[1], 1)} ${third(c.x, 0)} ${third(c.y, 1)} ${r(c.x)} ${r(c.y)}`;
        }
        case 'C':
          return `C ${[c.x1, c.y1, c.x2, c.y2, c.x, c.y].map(r).join(' ')}`;
        case 'Z':
          return 'Z';
        default:
          return c.type === 'L' && r(c.x) === r(from[0]) && r(c.y) === r(from[1])
            ? ''
            : `${c.type} ${r(c.x)} ${r(c.y)}`;
      }
    })
    .filter(Boolean)
    .join(' ');
}

function outlinesOf({ package: name, weight }) {
  const out = { unitsPerEm: 0, ascender: 0, descender: 0, glyphs: {}, kerning: {} };
  for (const script of ['latin', 'latin-ext']) {
    const bytes = readFileSync(
      `node_modules/@fontsource/${name}/files/${name}-${script}-${weight}-normal.woff`,
    );
    const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
    Object.assign(out, { unitsPerEm: font.unitsPerEm, ascender: font.ascender, descender: font.descender });
    const found = [];
    for (let i = 0; i < font.glyphs.length; i++) {
      const glyph = font.glyphs.get(i);
      for (const code of new Set([glyph.unicode, ...(glyph.unicodes ?? [])])) {
        if (code === undefined || !wanted(code) || out.glyphs[String.fromCodePoint(code)]) continue;
        out.glyphs[String.fromCodePoint(code)] = [Math.round(glyph.advanceWidth), pathOf(font.glyphs.get(i))];
        found.push([String.fromCodePoint(code), glyph]);
      }
    }
    const letters = found.filter(([c]) => /^[A-Za-z0-9.,’'"-]$/.test(c));
    for (const [a, left] of letters) {
      for (const [b, right] of letters) {
        const by = Math.round(font.getKerningValue(left, right));
        if (by) out.kerning[a + b] = by;
      }
    }
  }
  return out;
}

export function writeType() {
  const all = Object.fromEntries(Object.entries(fonts).map(([key, font]) => [key, outlinesOf(font)]));
  writeFileSync('core/type/outlines.json', JSON.stringify(all));
}
