/** Light out of focus by brute force in float64: discs integrated over pixels, planes laid over each other. */

/** A plane across the view: its signed radius of confusion, its light, and where it is. The farthest first; that one is everywhere. */
export type Plane = {
  radius: number;
  light(x: number, y: number): number;
  is(x: number, y: number): boolean;
};

const parts = 16;
/** A disc of a radius as the share of it in each pixel, −half … half each way. */
export function discOf(radius: number): { half: number; at(x: number, y: number): number } {
  const half = Math.ceil(radius);
  const side = 2 * half + 1;
  const weights = new Float64Array(side * side);
  let sum = 0;
  for (let y = -half; y <= half; y++)
    for (let x = -half; x <= half; x++)
      for (let j = 0; j < parts; j++)
        for (let i = 0; i < parts; i++)
          if ((x + (i + 0.5) / parts - 0.5) ** 2 + (y + (j + 0.5) / parts - 0.5) ** 2 <= radius * radius) {
            weights[(y + half) * side + x + half]++;
            sum++;
          }
  return { half, at: (x, y) => weights[(y + half) * side + x + half] / sum };
}

/** What is seen at each pixel: every plane out of focus by itself, the nearer over the farther. */
export function planesOutOfFocus(width: number, height: number, planes: readonly Plane[]): Float64Array {
  const out = new Float64Array(width * height);
  for (const { radius, light, is } of planes) {
    const { half, at } = discOf(Math.abs(radius) < 0.5 ? 0.1 : Math.abs(radius));
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let [sum, share] = [0, 0];
        for (let j = -half; j <= half; j++)
          for (let i = -half; i <= half; i++) {
            const w = at(i, j);
            if (w === 0) continue;
            const [u, v] = [
              Math.min(width - 1, Math.max(0, x + i)),
              Math.min(height - 1, Math.max(0, y + j)),
            ];
            if (!is(u, v)) continue;
            sum += w * light(u, v);
            share += w;
          }
        out[y * width + x] = sum + (1 - share) * out[y * width + x];
      }
  }
  return out;
}

/** Each pixel spread over its own disc, by its signed radius; nothing hides anything, as on a floor. */
export function slopeOutOfFocus(
  width: number,
  height: number,
  light: (x: number, y: number) => number,
  radiusAt: (x: number, y: number) => number,
): Float64Array {
  const [sum, share] = [new Float64Array(width * height), new Float64Array(width * height)];
  const discs = new Map<number, ReturnType<typeof discOf>>();
  const reach = 32;
  for (let y = -reach; y < height + reach; y++)
    for (let x = -reach; x < width + reach; x++) {
      const radius = Math.max(0.1, Math.round(Math.abs(radiusAt(x, y)) * 20) / 20);
      if (!discs.has(radius)) discs.set(radius, discOf(radius));
      const { half, at } = discs.get(radius)!;
      for (let j = Math.max(-half, -y); j <= Math.min(half, height - 1 - y); j++)
        for (let i = Math.max(-half, -x); i <= Math.min(half, width - 1 - x); i++) {
          const w = at(i, j);
          sum[(y + j) * width + x + i] += w * light(x, y);
          share[(y + j) * width + x + i] += w;
        }
    }
  return sum.map((s, i) => s / share[i]);
}
