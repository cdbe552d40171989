/**
 * Radii that the layers of a picture are blurred by. What has one radius alone, as a plane across the view, is a layer of just that radius; what goes
 * through many, as a floor, is spread over a fixed ladder of them, so that nothing jumps while it moves or is looked at in parts.
 */

/** Radii are counted in parts of a pixel. */
const perPixel = 8;
/** On the ladder 1 + |r| grows by this factor from step to step. */
const growth = 1.4;
/** What lies together so closely is one radius, in pixels and as a share. */
const [alike, alikeShare] = [0.15, 0.02];

const stepOf = (r: number) => (Math.sign(r) * Math.log1p(Math.abs(r))) / Math.log(growth);
const radiusOf = (step: number) => Math.sign(step) * (growth ** Math.abs(step) - 1);

/** How many pixels have each radius, the sum of their radii, and the box that holds them: six numbers each, `zero` that of radius 0. */
type Counted = { bins: Float64Array; zero: number };
const perBin = 6;

function counted(radii: Float32Array, width: number, most: number): Counted {
  const zero = Math.ceil(most * perPixel);
  const bins = new Float64Array((2 * zero + 1) * perBin);
  for (let i = 0; i < bins.length; i += perBin) bins.set([0, 0, width, 0, radii.length, 0], i);
  for (let y = 0, i = 0; i < radii.length; y++)
    for (let x = 0; x < width; x++, i++) {
      const at = (Math.round(radii[i] * perPixel) + zero) * perBin;
      bins[at]++;
      bins[at + 1] += radii[i];
      if (x < bins[at + 2]) bins[at + 2] = x;
      if (x >= bins[at + 3]) bins[at + 3] = x + 1;
      if (y < bins[at + 4]) bins[at + 4] = y;
      if (y >= bins[at + 5]) bins[at + 5] = y + 1;
    }
  return { bins, zero };
}

/** Radii that are there without a gap of more than a step of the ladder: from the farthest to the nearest, and their mean. */
type Run = { far: number; near: number; sum: number; count: number };

function runsIn({ bins, zero }: Counted): Run[] {
  const runs: Run[] = [];
  for (let bin = 2 * zero; bin >= 0; bin--) {
    const [count, sum] = [bins[bin * perBin], bins[bin * perBin + 1]];
    if (count === 0) continue;
    const [far, near] = [(bin - zero + 0.5) / perPixel, (bin - zero - 0.5) / perPixel];
    const last = runs[runs.length - 1];
    if (last && stepOf(last.near) - stepOf(far) <= 1) {
      last.sum += sum;
      last.count += count;
      last.near = near;
    } else runs.push({ far, near, sum, count });
  }
  return runs;
}

/**
 * A layer: its radius, near ones below 0; the farthest and the nearest that are wholly in it; and the box of the pixels that have any share in it: left,
 * top, right and bottom, the last two beyond them.
 */
export type DepthLevel = {
  radius: number;
  far: number;
  near: number;
  /** The farthest of what hides it, if anything may. On a ladder the next step does not: it goes on there as it is. */
  hiddenBy?: number;
  box: readonly [number, number, number, number];
};

/** The levels of a picture whose pixels have these signed radii, up to ± `most`; the farthest first. */
export function depthLevels(radii: Float32Array, width: number, most: number): DepthLevel[] {
  const all = counted(radii, width, most);
  const levels = runsIn(all).flatMap(({ far, near, sum, count }, run) => {
    const mean = sum / count;
    // A bin wide is what has one radius.
    if (far - near - 1 / perPixel <= Math.max(alike, alikeShare * Math.abs(mean)))
      return [{ radius: mean, far, near, run }];
    const [first, last] = [Math.ceil(stepOf(far)), Math.floor(stepOf(near))];
    return Array.from({ length: first - last + 1 }, (_, i) => {
      const radius = Math.min(most, Math.max(-most, radiusOf(first - i)));
      return { radius, far: radius, near: radius, run };
    });
  });
  return levels.flatMap(({ run, ...level }, i) => {
    const hiddenBy = levels[levels[i + 1]?.run === run ? i + 2 : i + 1]?.far;
    const box = boxOf(all, hiddenBy ?? -Infinity, levels[i - 1]?.near ?? Infinity);
    return box ? [{ ...level, hiddenBy, box }] : [];
  });
}

/** The box of what lies between two radii. */
function boxOf({ bins, zero }: Counted, nearer: number, farther: number): DepthLevel['box'] | undefined {
  const box: [number, number, number, number] = [Infinity, Infinity, -1, -1];
  const [low, high] = [nearer, farther].map((r) => Math.min(2 * zero, Math.max(0, r * perPixel + zero)));
  for (let bin = Math.floor(low); bin <= Math.ceil(high); bin++) {
    const [count, , left, right, top, bottom] = bins.subarray(bin * perBin, bin * perBin + perBin);
    if (count === 0) continue;
    box[0] = Math.min(box[0], left);
    box[1] = Math.min(box[1], top);
    box[2] = Math.max(box[2], right);
    box[3] = Math.max(box[3], bottom);
  }
  return box[2] < 0 ? undefined : box;
}
