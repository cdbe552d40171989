/** Which frame stands on the screen so many steps after play began. */

export const loops = { loop: 'Over and over', swing: 'To and fro', once: 'Once' } as const;
export type Loop = keyof typeof loops;
/** Forwards or backwards. */
export type Direction = 1 | -1;

/** What is played: whole frames, both ends included. */
export type Span = { first: number; last: number };
export type Course = Span & { from: number; direction: Direction; loop: Loop };

const modulo = (a: number, n: number) => ((a % n) + n) % n;

/** Play begins where the playhead is; outside the span, or at the end of what is played once, where it starts anew. */
export function startOf({ first, last, from, direction, loop }: Course): number {
  const [start, end] = direction === 1 ? [first, last] : [last, first];
  return from < first || from > last || (loop === 'once' && from === end) ? start : from;
}

/** The frame after `steps` frames of time, and whether play is over by then. */
export function frameAfter(course: Course, steps: number): { frame: number; over: boolean } {
  const { first, last, direction, loop } = course;
  const count = last - first + 1;
  // Counted in the direction of play, from its first frame.
  const start = direction === 1 ? startOf(course) - first : last - startOf(course);
  const at = start + steps;
  const place = (n: number) => (direction === 1 ? first + n : last - n);
  if (loop === 'once') return { frame: place(Math.min(at, count - 1)), over: at >= count };
  if (loop === 'loop') return { frame: place(modulo(at, count)), over: false };
  if (count === 1) return { frame: first, over: false };
  const turn = modulo(at, 2 * (count - 1));
  return { frame: place(Math.min(turn, 2 * (count - 1) - turn)), over: false };
}

/** Frames in the order in which they are played, each once, from `ahead` steps after now; of a long shot the first `most`. */
export function upcoming(course: Course, ahead = 0, most = Number.POSITIVE_INFINITY): number[] {
  const count = course.last - course.first + 1;
  const steps = Math.min(most, course.loop === 'swing' ? 2 * count : count);
  const frames = new Set<number>();
  for (let n = 0; n < steps; n++) frames.add(frameAfter(course, n + ahead).frame);
  return [...frames];
}

/** Frames of a shot by their distance from the playhead, those of the span before the others; of a long shot the nearest `most`. */
export function nearest(
  { first, last }: Span,
  span: Span,
  from: number,
  most = Number.POSITIVE_INFINITY,
): number[] {
  const inside: number[] = [];
  const outside: number[] = [];
  const add = (f: number) => {
    if (f >= first && f <= last) (f >= span.first && f <= span.last ? inside : outside).push(f);
  };
  add(from);
  for (let by = 1; by <= most / 2 && (from - by >= first || from + by <= last); by++) {
    add(from + by);
    add(from - by);
  }
  return [...inside, ...outside];
}
