/** Lookup tables as `.cube` text (Adobe 2013, *Cube LUT Specification*, version 1.0). */

export type Cube = {
  title: string;
  dimensions: 1 | 3;
  size: number;
  low: readonly [number, number, number];
  high: readonly [number, number, number];
  /** Three numbers an entry; of three dimensions red runs fastest. */
  values: Float32Array;
};

const mostSize = { 1: 65536, 3: 129 } as const;
const longest = 128 * 2 ** 20;

/** @throws {Error} naming the line and what is wrong. */
export function readCube(text: string): Cube {
  if (text.length > longest) throw new Error('It is too long for a lookup table.');
  let [title, dimensions, size] = ['', 0, 0];
  let [low, high]: [number[], number[]] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  let values = new Float32Array(0);
  let count = 0;
  const lines = text.split(/\r\n|\r|\n/);
  const fail = (n: number, what: string) => new Error(`Line ${n + 1}: ${what}`);
  for (const [n, raw] of lines.entries()) {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) continue;
    const word = /^[A-Z_0-9]+/.exec(line)?.[0];
    if (word && /^[A-Z]/.test(word)) {
      const rest = line.slice(word.length).trim();
      const numbers = rest.split(/\s+/).map(Number);
      if (word === 'TITLE') title = rest.replace(/^"|"$/g, '');
      else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
        dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
        [size] = numbers;
        const most = mostSize[dimensions as 1 | 3];
        if (!Number.isInteger(size) || size < 2 || size > most)
          throw fail(n, `a size from 2 to ${most} is expected, not “${rest}”.`);
        values = new Float32Array(3 * (dimensions === 1 ? size : size ** 3));
      } else if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
        if (numbers.length !== 3 || !numbers.every(Number.isFinite))
          throw fail(n, `${word} takes three numbers.`);
        if (word === 'DOMAIN_MIN') low = numbers;
        else high = numbers;
      } else if (word === 'LUT_1D_INPUT_RANGE' || word === 'LUT_3D_INPUT_RANGE') {
        const [a, b] = numbers;
        if (!(Number.isFinite(a) && Number.isFinite(b))) throw fail(n, `${word} takes two numbers.`);
        [low, high] = [
          [a, a, a],
          [b, b, b],
        ];
      }
      continue;
    }
    const numbers = line.split(/\s+/).map(Number);
    if (numbers.length !== 3 || !numbers.every(Number.isFinite))
      throw fail(n, `three numbers are expected, not “${line.slice(0, 40)}”.`);
    if (size === 0) throw fail(n, 'the table begins before its size is said (LUT_1D_SIZE or LUT_3D_SIZE).');
    if (count >= values.length)
      throw fail(n, `there are more than the ${values.length / 3} lines of its size.`);
    values.set(numbers, count);
    count += 3;
  }
  if (size === 0) throw new Error('It says no size (LUT_1D_SIZE or LUT_3D_SIZE): it is no .cube file.');
  if (count < values.length)
    throw new Error(`It has ${count / 3} of ${values.length / 3} lines: it is cut off.`);
  if (low.some((v, c) => !(high[c] > v))) throw new Error('Its domain has no width.');
  return {
    title,
    dimensions: dimensions as 1 | 3,
    size,
    low: low as unknown as Cube['low'],
    high: high as unknown as Cube['high'],
    values,
  };
}

export function writeCube(
  { title, dimensions, size, low, high, values }: Cube,
  comments: readonly string[] = [],
): string {
  const number = (v: number) => Number(v.toPrecision(8)).toString();
  const lines = [
    ...comments.map((c) => `# ${c.replace(/[\r\n]+/g, ' ')}`),
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_${dimensions}D_SIZE ${size}`,
    `DOMAIN_MIN ${low.map(number).join(' ')}`,
    `DOMAIN_MAX ${high.map(number).join(' ')}`,
  ];
  for (let i = 0; i < values.length; i += 3)
    lines.push(`${number(values[i])} ${number(values[i + 1])} ${number(values[i + 2])}`);
  return `${lines.join('\n')}\n`;
}

/** Sides of a cube as they are kept in a document. */
const keptSide = 33;

/** A cube of no more than 33 a side: a larger one is read at the places of one, straight between its own. */
export function keptCube(cube: Cube): Cube {
  if (cube.dimensions === 1 || cube.size <= keptSide) return cube;
  const values = new Float32Array(3 * keptSide ** 3);
  const n = cube.size;
  const place = (i: number) => {
    const at = (i * (n - 1)) / (keptSide - 1);
    const k = Math.min(n - 2, Math.floor(at));
    return [k, at - k] as const;
  };
  for (let z = 0, to = 0; z < keptSide; z++)
    for (let y = 0; y < keptSide; y++)
      for (let x = 0; x < keptSide; x++, to += 3)
        for (let c = 0; c < 3; c++) {
          let sum = 0;
          for (let corner = 0; corner < 8; corner++) {
            let [weight, at] = [1, 0];
            for (const [axis, i] of [x, y, z].entries()) {
              const [k, f] = place(i);
              const far = (corner >> axis) & 1;
              weight *= far ? f : 1 - f;
              at += (k + far) * n ** axis;
            }
            if (weight > 0) sum += weight * cube.values[at * 3 + c];
          }
          values[to + c] = sum;
        }
  return { ...cube, size: keptSide, values };
}

/**
 * A cube as text that a document keeps: what it is, and its numbers as 16 bits between its least and its most, in base 64. Its error is 1/131070 of what
 * it spans.
 */
export function packCube(cube: Cube): string {
  const { title, dimensions, size, low, high, values } = keptCube(cube);
  let [least, most] = [Infinity, -Infinity];
  for (const v of values) {
    if (v < least) least = v;
    if (v > most) most = v;
  }
  const span = most - least || 1;
  const bytes = new Uint8Array(values.length * 2);
  for (let i = 0; i < values.length; i++) {
    const code = Math.round(((values[i] - least) / span) * 65535);
    bytes[i * 2] = code & 255;
    bytes[i * 2 + 1] = code >> 8;
  }
  let binary = '';
  for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192));
  const head = [dimensions, size, ...low, ...high, least, span].join(' ');
  return `${head}\n${title.replace(/[\r\n]/g, ' ').slice(0, 200)}\n${btoa(binary)}`;
}

/** The cube of a text of `packCube`; undefined where it is none. */
export function unpackCube(text: string): Cube | undefined {
  const [head, title, code] = text.split('\n');
  const numbers = (head ?? '').split(' ').map(Number);
  if (numbers.length !== 10 || !numbers.every(Number.isFinite) || code === undefined) return undefined;
  const [dimensions, size, a, b, c, d, e, f, least, span] = numbers;
  if (dimensions !== 1 && dimensions !== 3) return undefined;
  if (!Number.isInteger(size) || size < 2 || size > (dimensions === 1 ? mostSize[1] : keptSide))
    return undefined;
  let binary: string;
  try {
    binary = atob(code);
  } catch {
    return undefined;
  }
  const count = 3 * (dimensions === 1 ? size : size ** 3);
  if (binary.length !== count * 2 || ![d - a, e - b, f - c].every((w) => w > 0)) return undefined;
  const values = new Float32Array(count);
  for (let i = 0; i < count; i++)
    values[i] = least + ((binary.charCodeAt(i * 2) | (binary.charCodeAt(i * 2 + 1) << 8)) / 65535) * span;
  return { title, dimensions, size, low: [a, b, c], high: [d, e, f], values };
}
