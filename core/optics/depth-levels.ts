/**
 * Radii that the layers of a picture are blurred by. What has one radius alone, as a plane across the view, is a layer of just that radius; what goes
 * through many, as a floor, is spread over a fixed ladder of them, so that nothing jumps while it moves or is looked at in parts.
 */

/** Radii are counted in parts of a pixel. */
const perPixel = 8;
/** On the ladder 1 + |r| grows by about this factor from step to step: so that the largest radius is a step. */
const growth = 1.5;
/** What lies together so closely is one radius, in pixels and as a share. */
const [alike, alikeShare] = [0.15, 0.02];

/** Steps are whole numbers as closely as this. */
const exact = 1e-9;
const holdTo = (most: number, r: number) => Math.min(most, Math.max(-most, r));

/** Radii by steps, and steps by radii; both signed. */
type Ladder = { stepOf(radius: number): number; radiusOf(step: number): number };

function ladderTo(most: number): Ladder {
  const all = Math.log1p(most);
  const step = all / Math.max(1, Math.round(all / Math.log(growth)));
  return {
    stepOf: (r) => (Math.sign(r) * Math.log1p(Math.abs(r))) / step,
    radiusOf: (n) => Math.sign(n) * Math.expm1(Math.abs(n) * step),
  };
}

/**
 * How many pixels have each radius, the sum of their radii, and the box that holds them: six numbers each, by rising radius. The first and the last are of
 * those that are held to the largest radius; `zero` is that of radius 0.
 */
type Counted = { bins: Float64Array; zero: number };
const perBin = 6;

function counted(radii: Float32Array, width: number, most: number): Counted {
  const zero = Math.ceil(most * perPixel) + 1;
  const bins = new Float64Array((2 * zero + 1) * perBin);
  for (let i = 0; i < bins.length; i += perBin) bins.set([0, 0, width, 0, radii.length, 0], i);
  // As it is in a picture of floats.
  const largest = Math.fround(most);
  const binOf = (r: number) =>
    r <= -largest ? 0 : r >= largest ? 2 * zero : Math.round(r * perPixel) + zero;
  for (let y = 0, row = 0; row < radii.length; y++, row += width)
    // Neighbours mostly share a radius: what they have in common is written down once.
    for (let x = 0; x < width; ) {
      const bin = binOf(radii[row + x]);
      const left = x;
      let sum = 0;
      do sum += radii[row + x++];
      while (x < width && binOf(radii[row + x]) === bin);
      const at = bin * perBin;
      bins[at] += x - left;
      bins[at + 1] += sum;
      if (left < bins[at + 2]) bins[at + 2] = left;
      if (x > bins[at + 3]) bins[at + 3] = x;
      if (y < bins[at + 4]) bins[at + 4] = y;
      bins[at + 5] = y + 1;
    }
  return { bins, zero };
}

/** Radii that are there without a gap of more than a step of the ladder: from the farthest to the nearest, and their mean. */
type Run = { far: number; near: number; sum: number; count: number };

function runsIn({ bins, zero }: Counted, { stepOf }: Ladder, most: number): Run[] {
  const runs: Run[] = [];
  for (let bin = 2 * zero; bin >= 0; bin--) {
    const [count, sum] = [bins[bin * perBin], bins[bin * perBin + 1]];
    if (count === 0) continue;
    const [far, near] = [0.5, -0.5].map((half) => holdTo(most, (bin - zero + half) / perPixel));
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
  const ladder = ladderTo(most);
  const levels = runsIn(all, ladder, most).flatMap(({ far, near, sum, count }, run) => {
    const mean = sum / count;
    // A bin wide is what has one radius.
    if (far - near - 1 / perPixel <= Math.max(alike, alikeShare * Math.abs(mean)))
      return [{ radius: mean, far, near, run }];
    const [first, last] = [Math.ceil(ladder.stepOf(far) - exact), Math.floor(ladder.stepOf(near) + exact)];
    return Array.from({ length: first - last + 1 }, (_, i) => {
      const radius = holdTo(most, ladder.radiusOf(first - i));
      return { radius, far: radius, near: radius, run };
    });
  });
  return levels.flatMap(({ run, ...level }, i) => {
    const next = levels[i + 1];
    // What is held to the largest radius may be nearer by any distance.
    const goesOn = next?.run === run && next.radius > -most;
    const hiddenBy = levels[goesOn ? i + 2 : i + 1]?.far;
    const box = boxOf(all, hiddenBy ?? -Infinity, levels[i - 1]?.near ?? Infinity);
    return box ? [{ ...level, hiddenBy, box }] : [];
  });
}

/** The box of what lies between two radii: not that of what is held to the largest. */
function boxOf({ bins, zero }: Counted, nearer: number, farther: number): DepthLevel['box'] | undefined {
  const box: [number, number, number, number] = [Infinity, Infinity, -1, -1];
  const first = nearer === -Infinity ? 0 : Math.max(1, Math.floor(nearer * perPixel) + zero);
  const last = farther === Infinity ? 2 * zero : Math.min(2 * zero - 1, Math.ceil(farther * perPixel) + zero);
  for (let bin = first; bin <= last; bin++) {
    const [count, , left, right, top, bottom] = bins.subarray(bin * perBin, bin * perBin + perBin);
    if (count === 0) continue;
    box[0] = Math.min(box[0], left);
    box[1] = Math.min(box[1], top);
    box[2] = Math.max(box[2], right);
    box[3] = Math.max(box[3], bottom);
  }
  return box[2] < 0 ? undefined : box;
}
