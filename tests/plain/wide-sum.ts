import { levelFor, ownTaps } from '../../core/kernels/pyramid';
import { convolved } from './gaussian';
import { addWeighted, type Plane, plane } from './plane';
import { addUp, bottom, down, type Level } from './pyramid';

/**
 * Σ weight · Gaussian(sigma) of a plane, black outside, by the pyramid of `./pyramid.ts` with the levels and taps of `core/kernels/pyramid.ts`.
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
    for (const { sigma, weight } of placed.filter((k) => k.level === l))
      addWeighted(here.plane, convolved(level.plane, ownTaps(sigma, l)), weight);
    if (sum) addUp(here, sum);
    sum = here;
  }
  return sum!.plane;
}
