import { isPictureName } from './file-formats';
import { type FramePattern, frameOf, pathOf } from './frame-pattern';
import { limits } from './limits';

/** Files that belong together: numbered frames, or one still. */
export type Sequence = {
  /** Name of the sequence: the file name up to its number. */
  name: string;
  pattern: FramePattern;
  frames: number[];
  /** Frames between the first and the last that have no file, as ranges. */
  gaps: [number, number][];
};

/** The pattern's text, as users write it: `hall.####.exr`. */
export function patternText({ before, after, digits, still, range }: FramePattern): string {
  if (still) return before;
  if (!range) return `${before}${'#'.repeat(digits)}${after}`;
  const written = (frame: number) =>
    `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(digits, '0')}`;
  return `${before}[${written(range[0])}-${written(range[1])}]${after}`;
}

export function gapsOf(frames: readonly number[]): [number, number][] {
  const gaps: [number, number][] = [];
  for (let i = 1; i < frames.length; i++)
    if (frames[i] > frames[i - 1] + 1) gaps.push([frames[i - 1] + 1, frames[i] - 1]);
  return gaps;
}

/** Ranges in words: `3, 7–9`. */
export const rangesInWords = (ranges: readonly (readonly [number, number])[]) =>
  ranges.map(([a, b]) => (a === b ? `${a}` : `${a}–${b}`)).join(', ');

/** The last number before the ending is the frame; a minus belongs to it unless a letter or digit stands before. */
const numbered = /^(.*?)((?<![A-Za-z0-9])-)?(\d+)(\D*)$/;

/** Files in the order of their frames, parted where the numbers lie far apart: photographs are numbered, too. */
function runsOf<T extends { frame: number }>(sorted: readonly T[]): T[][] {
  const runs: T[][] = [];
  for (const file of sorted) {
    const last = runs[runs.length - 1];
    const [first, before] = [last?.[0], last?.[last.length - 1]];
    if (
      before &&
      file.frame - before.frame <= limits.sequenceGap &&
      file.frame - first.frame < limits.shotFrames
    )
      last.push(file);
    else runs.push([file]);
  }
  return runs;
}

/** Names of files grouped into sequences, in the order of their names; what is no picture is left out. */
export function sequencesOf(paths: readonly string[]): Sequence[] {
  const groups = new Map<
    string,
    { before: string; after: string; found: { path: string; text: string; frame: number }[] }
  >();
  const stills: string[] = [];
  for (const path of paths) {
    if (!isPictureName(path)) continue;
    const slash = path.lastIndexOf('/') + 1;
    const dot = path.lastIndexOf('.');
    const stem = path.slice(slash, dot);
    const found = numbered.exec(stem);
    if (!found) {
      stills.push(path);
      continue;
    }
    const [, front, minus = '', digits, back] = found;
    if (Number(digits) > limits.frameNumber) {
      stills.push(path);
      continue;
    }
    const before = path.slice(0, slash) + front;
    const after = back + path.slice(dot);
    const key = `${before}\0${after}`;
    const group = groups.get(key) ?? { before, after, found: [] };
    group.found.push({ path, text: minus + digits, frame: Number(minus + digits) });
    groups.set(key, group);
  }
  const sequences: Sequence[] = [];
  const add = (pattern: FramePattern, frames: number[]) => {
    const whole = pattern.still ? pattern.before : pattern.before.replace(/[._\-\s]+$/, '');
    const name = whole.slice(whole.lastIndexOf('/') + 1);
    sequences.push({ name, pattern, frames, gaps: gapsOf(frames) });
  };
  for (const { before, after, found } of groups.values()) {
    // Padded numbers set the digits; numbers written otherwise are a sequence of their own.
    let rest = found;
    while (rest.length > 0) {
      const padded = rest.find(({ text }) => /^-?0\d/.test(text));
      const digits = padded
        ? padded.text.replace('-', '').length
        : Math.min(...rest.map(({ text }) => text.replace('-', '').length));
      const pattern = { before, after, digits, still: false };
      const mine = rest.filter(({ path, frame }) => frameOf(pattern, path) === frame);
      if (mine.length === 0) {
        stills.push(...rest.map((r) => r.path));
        break;
      }
      const taken = new Set(mine);
      rest = rest.filter((r) => !taken.has(r));
      const sorted = mine.sort((a, b) => a.frame - b.frame);
      const runs = runsOf(sorted);
      for (const run of runs) {
        const frames = run.map((m) => m.frame);
        if (run.length === 1) stills.push(run[0].path);
        // Where the numbers lie far apart each run is a sequence of its own, named by its bounds.
        else if (runs.length === 1) add(pattern, frames);
        else add({ ...pattern, range: [frames[0], frames[frames.length - 1]] }, frames);
      }
    }
  }
  for (const path of stills) add({ before: path, after: '', digits: 0, still: true }, [1]);
  const order = new Intl.Collator('en', { numeric: true }).compare;
  return sequences.sort((a, b) => order(pathOf(a.pattern, a.frames[0]), pathOf(b.pattern, b.frames[0])));
}
