/** The nearest surface a ray met: distance, unit normal towards the ray's side, and the object. */
export type Hit = { t: number; nx: number; ny: number; nz: number; object: number };

export const freshHit = (): Hit => ({ t: Infinity, nx: 0, ny: 1, nz: 0, object: -1 });

/** A ray: origin and unit direction, in metres; y is up. */
export type Ray = { ox: number; oy: number; oz: number; dx: number; dy: number; dz: number };

/** Nearer than this a ray has only met the surface it left. */
export const nearest = 1e-4;

export function meet(hit: Hit, t: number, nx: number, ny: number, nz: number, object: number) {
  hit.t = t;
  hit.nx = nx;
  hit.ny = ny;
  hit.nz = nz;
  hit.object = object;
}

export function sphere(
  ray: Ray,
  hit: Hit,
  cx: number,
  cy: number,
  cz: number,
  radius: number,
  object: number,
) {
  const x = ray.ox - cx;
  const y = ray.oy - cy;
  const z = ray.oz - cz;
  const b = x * ray.dx + y * ray.dy + z * ray.dz;
  const c = x * x + y * y + z * z - radius * radius;
  const d = b * b - c;
  if (d < 0) return;
  const root = Math.sqrt(d);
  const t = -b - root > nearest ? -b - root : -b + root;
  if (t <= nearest || t >= hit.t) return;
  const s = 1 / radius;
  meet(hit, t, (x + ray.dx * t) * s, (y + ray.dy * t) * s, (z + ray.dz * t) * s, object);
}

/** An upright cylinder with its caps, from `y0` to `y1`. */
export function pillar(
  ray: Ray,
  hit: Hit,
  cx: number,
  cz: number,
  r: number,
  y0: number,
  y1: number,
  object: number,
) {
  const x = ray.ox - cx;
  const z = ray.oz - cz;
  const a = ray.dx * ray.dx + ray.dz * ray.dz;
  const b = x * ray.dx + z * ray.dz;
  const d = b * b - a * (x * x + z * z - r * r);
  if (d <= 0) return;
  const root = Math.sqrt(d);
  const t = (-b - root) / a;
  if (t > nearest && t < hit.t) {
    const y = ray.oy + ray.dy * t;
    if (y >= y0 && y <= y1) meet(hit, t, (x + ray.dx * t) / r, 0, (z + ray.dz * t) / r, object);
  }
  const up = ray.dy < 0 ? 1 : -1;
  const s = ((up > 0 ? y1 : y0) - ray.oy) / ray.dy;
  if (s <= nearest || s >= hit.t) return;
  const px = x + ray.dx * s;
  const pz = z + ray.dz * s;
  if (px * px + pz * pz <= r * r) meet(hit, s, 0, up, 0, object);
}

/** A beam along z: the box from (x0, y0) to (x1, y1) between `z0` and `z1`, seen from outside. */
export function beam(
  ray: Ray,
  hit: Hit,
  x0: number,
  y0: number,
  z0: number,
  x1: number,
  y1: number,
  z1: number,
  object: number,
) {
  const tx = ((ray.dx > 0 ? x0 : x1) - ray.ox) / ray.dx;
  const ty = ((ray.dy > 0 ? y0 : y1) - ray.oy) / ray.dy;
  const tz = ((ray.dz > 0 ? z0 : z1) - ray.oz) / ray.dz;
  const enter = Math.max(tx, ty, tz);
  if (enter <= nearest || enter >= hit.t) return;
  const fx = ((ray.dx > 0 ? x1 : x0) - ray.ox) / ray.dx;
  const fy = ((ray.dy > 0 ? y1 : y0) - ray.oy) / ray.dy;
  const fz = ((ray.dz > 0 ? z1 : z0) - ray.oz) / ray.dz;
  if (enter > Math.min(fx, fy, fz)) return;
  const [nx, ny, nz] = [enter === tx ? 1 : 0, enter === ty ? 1 : 0, enter === tz ? 1 : 0];
  meet(hit, enter, ray.dx > 0 ? -nx : nx, ray.dy > 0 ? -ny : ny, ray.dz > 0 ? -nz : nz, object);
}

/** A flat ring: the band between radii `inner` and `outer`, 2 `half` thick, about `axis` (the second of the frame). */
export type Ring = {
  centre: readonly [number, number, number];
  /** Three unit vectors; the second is the ring's axis. */
  frame: readonly [readonly number[], readonly number[], readonly number[]];
  inner: number;
  outer: number;
  half: number;
  object: number;
};

export function ring(ray: Ray, hit: Hit, g: Ring) {
  const [u, v, w] = g.frame;
  const x = ray.ox - g.centre[0];
  const y = ray.oy - g.centre[1];
  const z = ray.oz - g.centre[2];
  const ox = x * u[0] + y * u[1] + z * u[2];
  const oy = x * v[0] + y * v[1] + z * v[2];
  const oz = x * w[0] + y * w[1] + z * w[2];
  const dx = ray.dx * u[0] + ray.dy * u[1] + ray.dz * u[2];
  const dy = ray.dx * v[0] + ray.dy * v[1] + ray.dz * v[2];
  const dz = ray.dx * w[0] + ray.dy * w[1] + ray.dz * w[2];
  const local = (t: number, nx: number, ny: number, nz: number) =>
    meet(
      hit,
      t,
      nx * u[0] + ny * v[0] + nz * w[0],
      nx * u[1] + ny * v[1] + nz * w[1],
      nx * u[2] + ny * v[2] + nz * w[2],
      g.object,
    );
  const face = dy > 0 ? -1 : 1;
  const t = (face * g.half - oy) / dy;
  if (t > nearest && t < hit.t) {
    const px = ox + dx * t;
    const pz = oz + dz * t;
    const rr = px * px + pz * pz;
    if (rr >= g.inner * g.inner && rr <= g.outer * g.outer) local(t, 0, face, 0);
  }
  const a = dx * dx + dz * dz;
  const b = ox * dx + oz * dz;
  const cc = ox * ox + oz * oz;
  const outer = b * b - a * (cc - g.outer * g.outer);
  if (outer <= 0) return;
  const s = (-b - Math.sqrt(outer)) / a;
  if (s > nearest && s < hit.t && Math.abs(oy + dy * s) <= g.half) {
    local(s, (ox + dx * s) / g.outer, 0, (oz + dz * s) / g.outer);
  }
  const inner = b * b - a * (cc - g.inner * g.inner);
  if (inner <= 0) return;
  const far = (-b + Math.sqrt(inner)) / a;
  if (far > nearest && far < hit.t && Math.abs(oy + dy * far) <= g.half) {
    local(far, -(ox + dx * far) / g.inner, 0, -(oz + dz * far) / g.inner);
  }
}
