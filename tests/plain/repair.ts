type Rgba = readonly number[];

/** Repair of broken pixels as it is defined, pixel by pixel, in double precision. `at` gives a pixel of a picture of that size. */
export function plainRepair(
  width: number,
  height: number,
  at: (x: number, y: number) => Rgba,
  { least, stray, dark, radius }: { least: number; stray: number; dark: number; radius: number },
): number[] {
  const isSound = (p: Rgba) => p.every(Number.isFinite) && p.slice(0, 3).every((v) => v >= least);
  const luma = ([r, g, b]: Rgba) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
  const around = (x: number, y: number, r: number) => {
    const found: Rgba[] = [];
    for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++)
      for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++)
        if ((u !== x || v !== y) && isSound(at(u, v))) found.push(at(u, v));
    return found;
  };
  const out: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = at(x, y);
      let isBroken = !isSound(p);
      const lights =
        isBroken || !(stray > 0)
          ? []
          : around(x, y, 1)
              .map(luma)
              .sort((a, b) => a - b);
      if (lights.length > 0 && luma(p) > dark) {
        const [low, high] = [lights[(lights.length - 1) >> 1], lights[lights.length >> 1]];
        isBroken = luma(p) > stray * Math.max((low + high) / 2, dark);
      }
      if (!isBroken) {
        out.push(...p);
        continue;
      }
      let sound: Rgba[] = [];
      for (let r = 1; r <= radius && sound.length === 0; r++) sound = around(x, y, r);
      for (let c = 0; c < 4; c++)
        out.push(sound.length > 0 ? sound.reduce((sum, q) => sum + q[c], 0) / sound.length : 0);
    }
  return out;
}
