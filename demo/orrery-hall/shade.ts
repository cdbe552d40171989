import { blocked, type Globe, type Material, type Scene, sky, sunward, trace } from './scene';
import { freshHit, type Hit, type Ray } from './surface';

/** The light of one ray, by pass; each pass three numbers. Their sum is the beauty. */
export type Light = {
  sun: Float64Array;
  fill: Float64Array;
  reflection: Float64Array;
  emission: Float64Array;
};

export const noLight = (): Light => ({
  sun: new Float64Array(3),
  fill: new Float64Array(3),
  reflection: new Float64Array(3),
  emission: new Float64Array(3),
});

const sunLight = [9.5, 7.6, 5.2];

/** A number from 0 to 1, the next at each call; the same seed gives the same row (xorshift32, Marsaglia 2003). */
export function randoms(seed: number): () => number {
  let s = seed | 0 || 0x9e3779b9;
  return () => {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    return (s >>> 0) / 4294967296;
  };
}

const albedo = new Float64Array(3);

/** Colour of a surface at a point: stone courses, inlays and painted stars. */
function colourAt(m: Material, name: string, x: number, y: number, z: number) {
  let k = 1;
  if (name === 'floor') {
    const r = Math.hypot(x, z);
    if (r < 12) {
      const turn = Math.atan2(x, z) / (2 * Math.PI) + 0.5;
      const star = Math.abs(((turn * 16) % 1) - 0.5) * 2;
      const inlay = r > 5 && r < 9.2 && star > (r - 5) / 4.2;
      if (r > 11.2 || Math.abs(r - 9.5) < 0.09 || Math.abs(r - 4.7) < 0.12) k = 0.22;
      else if (inlay || r < 1.9) k = 0.42;
      else k = (Math.floor(r / 1.55) + Math.floor(turn * 32)) & 1 ? 0.92 : 1.06;
    } else k = (Math.floor(x / 1.25 + 64) + Math.floor(z / 1.25)) & 1 ? 0.62 : 1.02;
  } else if (name === 'wall') {
    const turn = ((Math.atan2(x, -z) / (2 * Math.PI)) * 32 + 64.5) % 1;
    const pilaster = Math.abs(turn - 0.5) > 0.4;
    const course = (y * 1.6) % 1;
    k = y > 6.7 || y < 0.35 ? 0.55 : pilaster ? 1.1 : course < 0.04 ? 0.6 : 0.86;
  } else if (name === 'dome') {
    const rise = (y - 7.2) / 12;
    const turn = (Math.atan2(x, -z) / (2 * Math.PI)) * 16 + 64;
    const rib =
      Math.abs((turn % 1) - 0.5) < 0.045 || Math.abs(rise - 0.13) < 0.012 || Math.abs(rise - 0.7) < 0.012;
    if (rib) {
      albedo[0] = 0.5;
      albedo[1] = 0.36;
      albedo[2] = 0.14;
      return;
    }
    const [cu, cv] = [turn * 6, rise * 26];
    const cell = Math.imul(Math.floor(cu) * 374761393 + Math.floor(cv) * 668265263, 1274126177) >>> 0;
    const [px, py] = [0.25 + 0.5 * ((cell & 255) / 255), 0.25 + 0.5 * (((cell >> 8) & 255) / 255)];
    if ((cell >>> 16) % 3 === 0 && Math.hypot((cu % 1) - px, (cv % 1) - py) < 0.1) k = 5;
  } else if (name === 'colonnade') {
    k =
      y > 7
        ? (((-z / 1.95) % 1) + 1) % 1 < 0.16 || Math.abs(x) % 1.7 < 0.16
          ? 1.1
          : 0.7
        : (y * 1.5) % 1 < 0.04
          ? 0.6
          : 0.9;
  } else if (name === 'meadow') k = 0.85 + 0.3 * Math.abs(Math.sin(x * 0.35) * Math.cos(z * 0.27));
  albedo[0] = m.albedo[0] * k;
  albedo[1] = m.albedo[1] * k;
  albedo[2] = m.albedo[2] * k;
}

const probe: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 };
const probeHit = freshHit();

/** Surface to probe from, and the normal on the side one looks from. */
type Point = { x: number; y: number; z: number; nx: number; ny: number; nz: number };

function aim(p: Point, dx: number, dy: number, dz: number) {
  probe.ox = p.x + p.nx * 1e-3;
  probe.oy = p.y + p.ny * 1e-3;
  probe.oz = p.z + p.nz * 1e-3;
  probe.dx = dx;
  probe.dy = dy;
  probe.dz = dz;
}

function addSun(scene: Scene, p: Point, out: Float64Array, random: () => number) {
  // The sun is a disc, so shadows soften with distance.
  const [sx, sy, sz] = sunward;
  const spread = 0.006;
  const dx = sx + (random() - 0.5) * spread;
  const dy = sy + (random() - 0.5) * spread;
  const dz = sz + (random() - 0.5) * spread;
  const length = 1 / Math.hypot(dx, dy, dz);
  const cos = (p.nx * dx + p.ny * dy + p.nz * dz) * length;
  if (cos <= 0) return;
  aim(p, dx * length, dy * length, dz * length);
  if (blocked(scene, probe, Infinity)) return;
  for (let c = 0; c < 3; c++) out[c] += albedo[c] * sunLight[c] * cos;
}

function addGlobe(scene: Scene, g: Globe, p: Point, out: Float64Array, random: () => number) {
  const spread = g.radius * 1.6;
  const dx = g.x - p.x + (random() - 0.5) * spread;
  const dy = g.y - p.y + (random() - 0.5) * spread;
  const dz = g.z - p.z + (random() - 0.5) * spread;
  const d = Math.hypot(dx, dy, dz);
  const cos = (p.nx * dx + p.ny * dy + p.nz * dz) / d;
  const power = (g.radius / d) ** 2 * cos;
  if (cos <= 0 || power < 4e-4) return;
  aim(p, dx / d, dy / d, dz / d);
  if (blocked(scene, probe, d - g.radius * 2)) return;
  for (let c = 0; c < 3; c++) out[c] += albedo[c] * g.light[c] * power;
}

/** Light from everywhere: blue from above, warm from the sunlit floor, less where something stands close by. */
function addAmbient(scene: Scene, p: Point, out: Float64Array, random: (() => number) | undefined) {
  let open = 0.7;
  if (random) {
    const z = 2 * random() - 1;
    const a = 2 * Math.PI * random();
    const s = Math.sqrt(1 - z * z);
    const [dx, dy, dz] = [p.nx * 1.001 + Math.cos(a) * s, p.ny * 1.001 + Math.sin(a) * s, p.nz * 1.001 + z];
    const length = 1 / Math.hypot(dx, dy, dz);
    aim(p, dx * length, dy * length, dz * length);
    const { t } = trace(scene, probe, probeHit);
    open = t > 4 ? 1 : 0.35 + 0.65 * Math.sqrt(t / 4);
  }
  const up = 0.5 + 0.5 * p.ny;
  const outside = p.z < -12 ? 2.1 : 1;
  const light = [0.11 + 0.04 * up, 0.098 + 0.06 * up, 0.088 + 0.11 * up];
  const bounce = (1 - up) * 0.11;
  for (let c = 0; c < 3; c++) out[c] += albedo[c] * open * outside * (light[c] + bounce * sunLight[c] * 0.1);
}

const reflectedHit = freshHit();
const reflectedRay: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 };
const seen = noLight();

/** Light that a mirror direction brings: Schlick 1994 for how much, one ray for what. */
function addReflection(
  scene: Scene,
  ray: Ray,
  p: Point,
  m: Material,
  out: Float64Array,
  random: () => number,
) {
  const facing = -(ray.dx * p.nx + ray.dy * p.ny + ray.dz * p.nz);
  const stray = m.rough;
  const rx = ray.dx + 2 * facing * p.nx + (random() - 0.5) * 2 * stray;
  const ry = ray.dy + 2 * facing * p.ny + (random() - 0.5) * 2 * stray;
  const rz = ray.dz + 2 * facing * p.nz + (random() - 0.5) * 2 * stray;
  const length = 1 / Math.hypot(rx, ry, rz);
  reflectedRay.ox = p.x + p.nx * 1e-3;
  reflectedRay.oy = p.y + p.ny * 1e-3;
  reflectedRay.oz = p.z + p.nz * 1e-3;
  reflectedRay.dx = rx * length;
  reflectedRay.dy = ry * length;
  reflectedRay.dz = rz * length;
  trace(scene, reflectedRay, reflectedHit);
  for (const pass of [seen.sun, seen.fill, seen.emission]) pass.fill(0);
  addLight(scene, reflectedRay, reflectedHit, seen, random, 1);
  const grazing = (1 - Math.max(0, facing)) ** 5;
  for (let c = 0; c < 3; c++) {
    const share = m.mirror[c] + (1 - m.mirror[c]) * grazing;
    out[c] += share * (seen.sun[c] + seen.fill[c] + seen.emission[c]);
  }
}

/** Adds the light that comes back along `ray` from `hit` to the passes; `depth` 0 is what the camera sees. */
export function addLight(scene: Scene, ray: Ray, hit: Hit, to: Light, random: () => number, depth = 0) {
  if (hit.object < 0) {
    const light = sky(ray.dx, ray.dy, ray.dz);
    for (let c = 0; c < 3; c++) to.emission[c] += light[c];
    return;
  }
  const { name, material } = scene.objects[hit.object];
  const side = hit.nx * ray.dx + hit.ny * ray.dy + hit.nz * ray.dz > 0 ? -1 : 1;
  const p: Point = {
    x: ray.ox + ray.dx * hit.t,
    y: ray.oy + ray.dy * hit.t,
    z: ray.oz + ray.dz * hit.t,
    nx: hit.nx * side,
    ny: hit.ny * side,
    nz: hit.nz * side,
  };
  if (material.emits) {
    // A little brighter in the middle, like frosted glass over a lamp.
    const facing = -(p.nx * ray.dx + p.ny * ray.dy + p.nz * ray.dz);
    for (let c = 0; c < 3; c++) to.emission[c] += material.emits[c] * (0.72 + 0.28 * facing);
    return;
  }
  const mirror = material.mirror[0] > 0;
  colourAt(material, name, p.x, p.y, p.z);
  // What is itself a mirror, seen in a mirror, reflects an even hall.
  if (depth > 0 && mirror) for (let c = 0; c < 3; c++) albedo[c] += material.mirror[c] * 0.8;
  addSun(scene, p, to.sun, random);
  for (const g of scene.globes) addGlobe(scene, g, p, to.fill, random);
  addAmbient(scene, p, to.fill, depth === 0 ? random : undefined);
  if (depth === 0 && mirror) addReflection(scene, ray, p, material, to.reflection, random);
}
