/** Distances and dilation of planes by their definitions. */
type Plane = { width: number; height: number; data: Float32Array };

export function distance({ width, height, data }: Plane): Float64Array {
  const lit: [number, number][] = [];
  for (let i = 0; i < data.length; i++) if (data[i] > 0.5) lit.push([i % width, Math.floor(i / width)]);
  return Float64Array.from({ length: width * height }, (_, i) => {
    let best = Infinity;
    for (const [x, y] of lit) best = Math.min(best, Math.hypot((i % width) - x, Math.floor(i / width) - y));
    return best;
  });
}

export function dilate({ width, height, data }: Plane, radius: number): Float64Array {
  return Float64Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let most = -Infinity;
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++) {
      for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) {
        if ((u - x) ** 2 + (v - y) ** 2 <= radius * radius) most = Math.max(most, data[v * width + u]);
      }
    }
    return most;
  });
}
