import { gaussian } from './gaussian';
import { addWeighted, type Plane, plane } from './plane';
import { addUp, bottom, down, type Level, varianceOfLevel } from './pyramid';

/** Below this a blur at a coarse level would show the pyramid's own grid. */
const leastVariance = 0.05;

/** The coarsest level at which a Gaussian of `sigma` pixels still has variance of its own to add. */
function levelFor(sigma: number): number {
  let level = 0;
  while ((sigma * sigma - varianceOfLevel(level + 1)) / 4 ** (level + 1) >= leastVariance) level++;
  return level;
}

/**
 * Σ weight · Gaussian(sigma) of a plane, black outside. Wide Gaussians are worked on coarse levels of a pyramid,
 * whose own variance is taken off first. Keeps Σ weight of the light exactly (up to float rounding) as far as it stays in
 * the frame; differs from the exact sum of Gaussians by less than 1 % of its peak.
 */
export function sumOfGaussians(from: Plane, kernels: { sigma: number; weight: number }[]): Plane {
  const placed = kernels.map((k) => ({ ...k, level: levelFor(k.sigma) }));
  const top = Math.max(0, ...placed.map((k) => k.level));
  const levels: Level[] = [bottom(from)];
  while (levels.length <= top) levels.push(down(levels[levels.length - 1]));

  let sum: Level | undefined;
  for (let l = top; l >= 0; l--) {
    const level = levels[l];
    const here: Level = { ...level, plane: plane(level.plane.width, level.plane.height) };
    for (const { sigma, weight } of placed.filter((k) => k.level === l)) {
      const own = Math.sqrt(Math.max(0, sigma * sigma - varianceOfLevel(l)) / 4 ** l);
      addWeighted(here.plane, gaussian(level.plane, own), weight);
    }
    if (sum) addUp(here, sum);
    sum = here;
  }
  return sum!.plane;
}
