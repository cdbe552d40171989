import { luminance } from '../colour/luminance';
import type { Kind } from '../picture/kind';

type Rgba = readonly [number, number, number, number];

/** A number of the scene, as long as it says something. */
const sceneNumber = (v: number) => (Number.isFinite(v) ? String(Number(v.toPrecision(4))) : 'endless');

/** Value of a matte or of data at a pixel, in words: the coverage, or the number. */
function numberChanges(before: Rgba | undefined, [now]: Rgba, kind: 'matte' | 'data'): string[] {
  const say = (v: number) =>
    kind === 'matte' ? `${(v * 100).toFixed(v > 0 && v < 0.01 ? 2 : 0)} %` : sceneNumber(v);
  if (!before) return [kind === 'matte' ? `${say(now)} covered` : say(now)];
  if (before[0] === now) return [];
  return [kind === 'matte' ? `${say(before[0])} → ${say(now)} covered` : `${say(before[0])} → ${say(now)}`];
}

/** Change of a pixel from one point to the next, in words; empty without a change. Mattes and data are not described as light. */
export function changesOf(before: Rgba | undefined, after: Rgba, kind: Kind = 'picture'): string[] {
  if (kind !== 'picture') return numberChanges(before, after, kind);
  const finite = (p: Rgba) => p.every(Number.isFinite);
  if (!finite(after)) return !before || finite(before) ? ['became not finite'] : [];
  if (!before || !finite(before)) return [];
  const changes: string[] = [];
  const [from, to] = [luminance(before[0], before[1], before[2]), luminance(after[0], after[1], after[2])];
  const least = (p: Rgba) => Math.min(p[0], p[1], p[2]);
  const most = (p: Rgba) => Math.max(p[0], p[1], p[2]);
  if (least(before) >= 0 && least(after) < 0) changes.push('became negative');
  if (most(before) > 1 && [0, 1, 2].some((c) => before[c] > 1 && after[c] === 1))
    changes.push('was held to 1');
  if (from > 0 && to > 0) {
    const stops = Math.log2(to / from);
    if (Math.abs(stops) >= 0.01) changes.push(`${stops > 0 ? '+' : '−'}${Math.abs(stops).toFixed(2)} stops`);
  } else if (from <= 0 && to > 0) changes.push('light arrived');
  else if (from > 0 && to <= 0) changes.push('went dark');
  const alpha = after[3] - before[3];
  if (Math.abs(alpha) >= 1e-4) changes.push(`alpha ${alpha > 0 ? '+' : '−'}${Math.abs(alpha).toFixed(3)}`);
  if (changes.length === 0 && before.some((v, c) => v !== after[c])) changes.push('colour changed');
  return changes;
}
