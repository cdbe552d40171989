import { luminance } from '../colour/luminance';

type Rgba = readonly [number, number, number, number];

/** What became of a pixel from one place to the next, in words; empty where nothing did. */
export function changesOf(before: Rgba | undefined, after: Rgba): string[] {
  const finite = (p: Rgba) => p.every(Number.isFinite);
  if (!finite(after)) return !before || finite(before) ? ['became not finite'] : [];
  if (!before || !finite(before)) return [];
  const told: string[] = [];
  const [from, to] = [luminance(before[0], before[1], before[2]), luminance(after[0], after[1], after[2])];
  const least = (p: Rgba) => Math.min(p[0], p[1], p[2]);
  const most = (p: Rgba) => Math.max(p[0], p[1], p[2]);
  if (least(before) >= 0 && least(after) < 0) told.push('became negative');
  if (most(before) > 1 && [0, 1, 2].some((c) => before[c] > 1 && after[c] === 1)) told.push('was held to 1');
  if (from > 0 && to > 0) {
    const stops = Math.log2(to / from);
    if (Math.abs(stops) >= 0.01) told.push(`${stops > 0 ? '+' : '−'}${Math.abs(stops).toFixed(2)} stops`);
  } else if (from <= 0 && to > 0) told.push('light arrived');
  else if (from > 0 && to <= 0) told.push('went dark');
  const alpha = after[3] - before[3];
  if (Math.abs(alpha) >= 1e-4) told.push(`alpha ${alpha > 0 ? '+' : '−'}${Math.abs(alpha).toFixed(3)}`);
  if (told.length === 0 && before.some((v, c) => v !== after[c])) told.push('colour changed');
  return told;
}
