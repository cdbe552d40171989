import { limits } from './limits';

/**
 * Numbered files: `hall.####.exr` (as many digits as marks, at least), `hall_%04d.exr`, `hall.[1-48].exr`; a path without any
 * of these is a still, the same on every frame.
 */
export type FramePattern = {
  before: string;
  after: string;
  digits: number;
  still: boolean;
  /** Bounds given in the pattern itself. */
  range?: [number, number];
};

export function parsePattern(text: string): FramePattern {
  const slash = text.lastIndexOf('/') + 1;
  const name = text.slice(slash);
  const found = /#+|%(?:0(\d+))?d|\[(-?\d+)-(-?\d+)\]/.exec(name);
  if (!found) return { before: text, after: '', digits: 0, still: true };
  const before = text.slice(0, slash + found.index);
  const after = name.slice(found.index + found[0].length);
  if (found[2] !== undefined) {
    const padded = /^-?0\d/.test(found[2]) ? found[2].replace('-', '').length : 1;
    const range: [number, number] = [Number(found[2]), Number(found[3])];
    return { before, after, digits: padded, still: false, range };
  }
  const digits = found[0].startsWith('#') ? found[0].length : Number(found[1] ?? 1);
  return { before, after, digits, still: false };
}

/** The file of `frame`; numbers keep their sign and grow past the padding. */
export function pathOf(pattern: FramePattern, frame: number): string {
  if (pattern.still) return pattern.before;
  const sign = frame < 0 ? '-' : '';
  return `${pattern.before}${sign}${String(Math.abs(frame)).padStart(pattern.digits, '0')}${pattern.after}`;
}

/** The frame number that `path` has under the pattern; undefined if it is another file. */
export function frameOf(pattern: FramePattern, path: string): number | undefined {
  if (pattern.still || !path.startsWith(pattern.before) || !path.endsWith(pattern.after)) return;
  const middle = path.slice(pattern.before.length, path.length - pattern.after.length);
  if (!/^-?\d+$/.test(middle)) return;
  const frame = Number(middle);
  if (Math.abs(frame) > limits.frameNumber) return;
  if (pattern.range && (frame < pattern.range[0] || frame > pattern.range[1])) return;
  return pathOf(pattern, frame) === path ? frame : undefined;
}

/** Frames of `1-24`, `7`, or `1-10,20-24`, in order, each once. */
export function parseFrames(text: string): number[] {
  const frames = new Set<number>();
  for (const part of text.split(',')) {
    const found = /^\s*(-?\d+)(?:\s*-\s*(-?\d+))?\s*$/.exec(part);
    if (!found) throw new RangeError(`“${part.trim()}” is not a frame range. Write it like 1-24 or 1-10,20.`);
    const [from, to] = [Number(found[1]), Number(found[2] ?? found[1])];
    if (Math.max(Math.abs(from), Math.abs(to)) > limits.frameNumber)
      throw new RangeError(`${part.trim()} is no frame: their numbers go up to ${limits.frameNumber}.`);
    if (to < from)
      throw new RangeError(`The range ${part.trim()} runs backwards. Write the smaller number first.`);
    if (to - from + frames.size >= limits.rangeFrames)
      throw new RangeError(
        `${text.trim().slice(0, 40)} is more than ${limits.rangeFrames} frames. Write a shorter range.`,
      );
    for (let f = from; f <= to; f++) frames.add(f);
  }
  return [...frames].sort((a, b) => a - b);
}
