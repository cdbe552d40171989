/** One channel of `width` by `height` samples: what the spatial kernels work on. */
export type Plane = { width: number; height: number; data: Float32Array };

export function plane(width: number, height: number): Plane {
  return { width, height, data: new Float32Array(width * height) };
}

/** Adds `weight` × `from` to `to`, which is as large. */
export function addWeighted(to: Plane, from: Plane, weight: number) {
  for (let i = 0; i < to.data.length; i++) to.data[i] += weight * from.data[i];
}
