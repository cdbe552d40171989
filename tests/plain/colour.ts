import type { ColourOp, StopsTable } from '../../core/kernels/colour';

/** Programs of colour in plain TypeScript and double precision, by the formulas of their sources. */

type Colour = [number, number, number];

const luma = ([r, g, b]: Colour) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

function read({ first, perStop, values, slope }: StopsTable, stops: number): number {
  const at = (stops - first) * perStop;
  const last = values.length - 1;
  if (at <= 0) return values[0];
  if (at >= last) return values[last] + ((at - last) / perStop) * slope;
  const i = Math.floor(at);
  return values[i] + (values[i + 1] - values[i]) * (at - i);
}

function curved(table: StopsTable, x: number): number {
  const least = 0.18 * 2 ** table.first;
  if (!(x > least)) return x * 2 ** (table.values[0] - table.first);
  return 0.18 * 2 ** read(table, Math.log2(x / 0.18));
}

const hable = (v: number) => {
  const f = (x: number) =>
    (x * (0.15 * x + 0.1 * 0.5) + 0.2 * 0.02) / (x * (0.15 * x + 0.5) + 0.2 * 0.3) - 0.02 / 0.3;
  return f(2 * v);
};

function oklch([r, g, b]: Colour, hue: number, chroma: number): Colour {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  const L = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  const u = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  const v = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  const turn = (hue * Math.PI) / 180;
  const A = chroma * (u * Math.cos(turn) - v * Math.sin(turn));
  const B = chroma * (u * Math.sin(turn) + v * Math.cos(turn));
  const l3 = (L + 0.3963377774 * A + 0.2158037573 * B) ** 3;
  const m3 = (L - 0.1055613458 * A - 0.0638541728 * B) ** 3;
  const s3 = (L - 0.0894841775 * A - 1.291485548 * B) ** 3;
  return [
    4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
    -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
    -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
  ];
}

function tetrahedral(op: Extract<ColourOp, { type: 'table-3d' }>, c: Colour): Colour {
  const n = op.size;
  const x = c.map((v, i) => Math.min(1, Math.max(0, (v - op.low[i]) / (op.high[i] - op.low[i]))) * (n - 1));
  const cell = x.map((v) => Math.min(n - 2, Math.floor(v)));
  const f = x.map((v, i) => v - cell[i]);
  const at = (d: readonly number[]) => {
    const i = (cell[0] + d[0] + (cell[1] + d[1]) * n + (cell[2] + d[2]) * n * n) * 4;
    return [op.table[i], op.table[i + 1], op.table[i + 2]];
  };
  // Through the corners of the cell in the order of the largest parts.
  const order = [0, 1, 2].sort((a, b) => f[b] - f[a]);
  const corner = [0, 0, 0];
  let out = at(corner);
  let before = out;
  for (const axis of order) {
    corner[axis] = 1;
    const next = at(corner);
    out = out.map((v, k) => v + (next[k] - before[k]) * f[axis]);
    before = next;
  }
  return out as Colour;
}

export function plainColour(program: readonly ColourOp[], colour: Colour): Colour {
  let c = colour;
  for (const op of program) {
    switch (op.type) {
      case 'matrix':
        c = [0, 4, 8].map(
          (r) => op.rows[r] * c[0] + op.rows[r + 1] * c[1] + op.rows[r + 2] * c[2] + op.rows[r + 3],
        ) as Colour;
        break;
      case 'power':
        c = c.map((v, i) => {
          const x = op.clamps ? Math.min(1, Math.max(0, v)) : v;
          return x > 0 ? x ** op.exponents[i] : x;
        }) as Colour;
        break;
      case 'curves':
        c = c.map((v, i) => curved(op.curves[i], v)) as Colour;
        break;
      case 'luminance-curve': {
        const y = luma(c);
        const least = 0.18 * 2 ** op.curve.first;
        const factor = y > least ? curved(op.curve, y) / y : 2 ** (op.curve.values[0] - op.curve.first);
        c = c.map((v) => v * factor) as Colour;
        break;
      }
      case 'saturation-curve': {
        const y = luma(c);
        const flat = { ...op.curve, slope: 0 };
        const factor = y > 0 ? read(flat, Math.log2(y / 0.18)) : op.curve.values[0];
        c = c.map((v) => y + (v - y) * factor) as Colour;
        break;
      }
      case 'oklch':
        c = oklch(c, op.hue, op.chroma);
        break;
      case 'tone': {
        const f = (x: number) => {
          if (op.curve === 'reinhard') return x >= 0 ? (x * (1 + x / op.white ** 2)) / (1 + x) : x;
          return x >= 0 ? hable(x) / hable(op.white) : (x * (5 / 9)) / hable(op.white);
        };
        const y = luma(c);
        c = c.map((v) => {
          const alone = f(v);
          const together = y > 1e-20 ? (v * f(y)) / y : alone;
          return alone + (together - alone) * op.byLuminance;
        }) as Colour;
        break;
      }
      case 'transfer': {
        const { by, back } = op;
        c = c.map((v) => {
          const x = Math.abs(v);
          if (by.type === 'stops')
            return back
              ? 0.18 * 2 ** (v * by.span + by.low)
              : (Math.log2(Math.max(1e-30, v / 0.18)) - by.low) / by.span;
          const y = back
            ? x <= 0.04045
              ? x / 12.92
              : ((x + 0.055) / 1.055) ** 2.4
            : x <= 0.0031308
              ? 12.92 * x
              : 1.055 * x ** (1 / 2.4) - 0.055;
          return Math.sign(v) * y;
        }) as Colour;
        break;
      }
      case 'table-1d':
        c = c.map((v, i) => {
          const at = ((v - op.low[i]) / (op.high[i] - op.low[i])) * (op.size - 1);
          const held = Math.min(op.size - 1, Math.max(0, at));
          const k = Math.min(op.size - 2, Math.floor(held));
          const own = op.table.subarray(i * op.size, (i + 1) * op.size);
          return own[k] + (own[k + 1] - own[k]) * (held - k);
        }) as Colour;
        break;
      case 'table-3d':
        c = tetrahedral(op, c);
        break;
      case 'between':
        break;
    }
  }
  return c;
}
