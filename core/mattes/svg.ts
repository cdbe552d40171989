import svgpath from 'svgpath';
import { limits } from '../formats/limits';
import { type FillRule, isFilled, windingAt } from '../math/fill-rule';
import { edgesOf, type PathPoint } from '../math/path';

/** Paths of SVG (W3C SVG 1.1, path data): cubic Béziers in and out. */

const number = (v: number) => Number(v.toFixed(3)).toString();

/** Path data of a closed path. */
export function toPathData(points: readonly PathPoint[]): string {
  if (points.length === 0) return '';
  const at = (x: number, y: number) => `${number(x)} ${number(y)}`;
  const parts = [`M${at(points[0].x, points[0].y)}`];
  points.forEach((p, i) => {
    const q = points[(i + 1) % points.length];
    const isLast = i === points.length - 1;
    if (!p.out && !q.in) {
      if (!isLast) parts.push(`L${at(q.x, q.y)}`);
      return;
    }
    const [ox, oy] = p.out ?? [0, 0];
    const [ix, iy] = q.in ?? [0, 0];
    parts.push(`C${at(p.x + ox, p.y + oy)} ${at(q.x + ix, q.y + iy)} ${at(q.x, q.y)}`);
  });
  return `${parts.join('')}Z`;
}

/** A file of closed paths, as large as the frame. */
export const toSvg = (
  { width, height }: { width: number; height: number },
  paths: readonly { name: string; points: readonly PathPoint[]; fillRule?: FillRule }[],
): string => {
  const clean = (text: string) => text.replace(/[<>&"]/g, ' ');
  const lines = paths.map((p) => {
    const rule = p.fillRule === 'evenodd' ? ' fill-rule="evenodd"' : '';
    return `  <path id="${clean(p.name)}"${rule} d="${toPathData(p.points)}"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">\n${lines.join('\n')}\n</svg>\n`;
};

const same = (a: number, b: number) => Math.abs(a - b) < 1e-6;

/** Closed paths of path data; arcs and quadratic curves become cubics. @throws {Error} saying what is wrong with it. */
export function fromPathData(data: string): PathPoint[][] {
  const path = svgpath(data) as ReturnType<typeof svgpath> & { err?: string };
  if (path.err) throw new Error(`The path cannot be read: ${path.err}.`);
  const paths: PathPoint[][] = [];
  let now: PathPoint[] = [];
  let [x, y] = [0, 0];
  const close = () => {
    if (now.length > 1) {
      const [first, last] = [now[0], now[now.length - 1]];
      // The last point of a closed curve is its first.
      if (now.length > 2 && same(first.x, last.x) && same(first.y, last.y)) {
        now.pop();
        now[0] = { ...first, ...(last.in ? { in: last.in } : {}) };
      }
      if (now.length > 1) paths.push(now);
    }
    now = [];
  };
  const to = (px: number, py: number, into?: [number, number]) => {
    now.push({ x: px, y: py, ...(into ? { in: into } : {}) });
    [x, y] = [px, py];
  };
  const cubic = (x1: number, y1: number, x2: number, y2: number, px: number, py: number) => {
    if (now.length === 0) now.push({ x, y });
    now[now.length - 1] = { ...now[now.length - 1], out: [x1 - x, y1 - y] };
    to(px, py, [x2 - px, y2 - py]);
  };
  path
    .abs()
    .unshort()
    .unarc()
    .iterate((segment: (string | number)[]) => {
      const [command, ...rest] = segment;
      const n = rest as number[];
      switch (command) {
        case 'M':
          close();
          to(n[0], n[1]);
          break;
        case 'L':
          to(n[0], n[1]);
          break;
        case 'H':
          to(n[0], y);
          break;
        case 'V':
          to(x, n[0]);
          break;
        case 'C':
          cubic(n[0], n[1], n[2], n[3], n[4], n[5]);
          break;
        case 'Q':
          cubic(
            x + (2 / 3) * (n[0] - x),
            y + (2 / 3) * (n[1] - y),
            n[2] + (2 / 3) * (n[0] - n[2]),
            n[3] + (2 / 3) * (n[1] - n[3]),
            n[2],
            n[3],
          );
          break;
        default: {
          const first = now[0];
          close();
          if (first) [x, y] = [first.x, first.y];
        }
      }
    });
  close();
  return paths;
}

/** Finds the next position of a letter, for queries in increasing order: each letter of the text is visited once. */
function nextOf(text: string, letter: string): (from: number) => number {
  let at = text.indexOf(letter);
  return (from) => {
    if (at >= 0 && at < from) at = text.indexOf(letter, from);
    return at;
  };
}

/** The attributes of every path element, in one walk through the text. */
function pathElements(text: string): Record<string, string>[] {
  const found: Record<string, string>[] = [];
  const [equalsFrom, endFrom] = [nextOf(text, '='), nextOf(text, '>')];
  let i = 0;
  for (let at = text.indexOf('<path'); at >= 0; at = text.indexOf('<path', i)) {
    i = at + 5;
    if (!/[\s/>]/.test(text[i] ?? '')) continue;
    const attributes: Record<string, string> = {};
    found.push(attributes);
    for (;;) {
      const [equals, end] = [equalsFrom(i), endFrom(i)];
      if (equals < 0 || (end >= 0 && end < equals)) break;
      const name = /[^\s/]*\s*$/.exec(text.slice(Math.max(i, equals - 100), equals))?.[0].trim() ?? '';
      let quote = equals + 1;
      while (/\s/.test(text[quote] ?? '')) quote++;
      i = quote;
      const close = /["']/.test(text[quote] ?? '') ? text.indexOf(text[quote], quote + 1) : -1;
      if (close < 0) break;
      attributes[name] ??= text.slice(quote + 1, close);
      i = close + 1;
    }
  }
  return found;
}

export type SvgPath = {
  name: string;
  points: PathPoint[];
  fillRule?: FillRule;
  operation: 'add' | 'subtract';
};

/**
 * The closed paths of one element as shapes, one after the other: the outer ones first, what fills a hole of another is taken away. By where their
 * first points lie, so for paths that lie in each other and do not cross.
 */
function nested(paths: readonly PathPoint[][], fillRule: FillRule): Omit<SvgPath, 'name'>[] {
  const outlines = paths.map((points) => edgesOf(points));
  const placed = paths.map((points, i) => {
    const [{ x, y }] = points;
    const windings = outlines.map((o, k) => (k === i ? 0 : windingAt(o, x, y)));
    const outside = windings.reduce((sum, w) => sum + w, 0);
    // Just inside, the path itself winds once more, one way or the other.
    const own = signedArea(outlines[i]) < 0 ? -1 : 1;
    const hole = isFilled(outside, fillRule) && !isFilled(outside + own, fillRule);
    return {
      points,
      fillRule,
      operation: hole ? 'subtract' : 'add',
      depth: windings.filter(Boolean).length,
    } as const;
  });
  return placed
    .sort((a, b) => a.depth - b.depth)
    .map(({ points, operation }) => ({
      points,
      operation,
      ...(fillRule === 'evenodd' ? { fillRule } : {}),
    }));
}

/** Twice the area, positive where the outline winds as `windingAt` counts. */
function signedArea(edges: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < edges.length; i += 6) sum += edges[i] * edges[i + 3] - edges[i + 2] * edges[i + 1];
  return sum;
}

/** Closed paths of an SVG text: the path data of its path elements, in order, with their fill rules. Its transforms are not followed. @throws {Error} */
export function fromSvg(text: string): SvgPath[] {
  if (text.length > limits.svgBytes)
    throw new Error(
      `It is larger than ${limits.svgBytes / 2 ** 20} MB. Save the paths that are wanted alone.`,
    );
  const elements = pathElements(text);
  const paths = elements.flatMap((e, i) => {
    const name = e.id?.trim().slice(0, 200) || `Path ${i + 1}`;
    if (!e.d) return [];
    const rule = e['fill-rule'] ?? /fill-rule\s*:\s*(\w+)/.exec(e.style ?? '')?.[1];
    const paths = fromPathData(e.d);
    for (const points of paths)
      if (points.length > limits.pathPoints)
        throw new Error(
          `${name} has ${points.length} points, at most ${limits.pathPoints} are taken. Simplify it, then read it again.`,
        );
    return nested(paths, rule === 'evenodd' ? 'evenodd' : 'nonzero').map((path) => ({ name, ...path }));
  });
  if (paths.length === 0)
    throw new Error('There is no path in it. Save the drawing as paths, then read it again.');
  return paths;
}
