/** Frames from `first` to `last` for which something holds, as runs of neighbours. */
export function runsOf(first: number, last: number, holds: (frame: number) => boolean): [number, number][] {
  const runs: [number, number][] = [];
  for (let f = first; f <= last; f++) {
    if (!holds(f)) continue;
    const before = runs.at(-1);
    if (before && before[1] === f - 1) before[1] = f;
    else runs.push([f, f]);
  }
  return runs;
}
