import {
  beam,
  freshHit,
  type Hit,
  meet,
  nearest,
  pillar,
  type Ray,
  type Ring,
  ring,
  sphere,
} from './surface';

/**
 * Orrery Hall: a drum of stone under a dome of painted stars, in it a brass orrery of turning rings, behind it an arch onto a
 * colonnade that recedes to the open sky. Metres; y up; the camera looks along −z.
 */
const hall = { radius: 12, wall: 7.2 };
/** The arches onto the colonnade and out of it: half their width, and where they begin to curve. */
const arch = { half: 3.3, spring: 3.7 };
const farArch = { half: 2.3, spring: 3.4 };
/** How far drum and dome overlap, so that no light leaks in between. */
const seam = 1e-3;
const slots = { count: 16, half: 0.075, low: 0.16, high: 0.6 };
const walk = { left: -4.7, right: 4.7, start: -11.4, end: -62, roof: 7.1 };
const columns = { x: 2.75, first: -14, pitch: 4, count: 12, lintel: 6.1 };

/** Towards the sun: ahead of the camera, to the right, a third of the way up. */
export const sunward = unit(0.5, 0.76, -0.62);

function unit(x: number, y: number, z: number): [number, number, number] {
  const s = 1 / Math.hypot(x, y, z);
  return [x * s, y * s, z * s];
}

type Rgb = readonly [number, number, number];
export type Material = {
  albedo: Rgb;
  /** Reflectance at normal incidence; 0 is dull. */
  mirror: Rgb;
  /** How far reflected rays stray. */
  rough: number;
  emits?: Rgb;
};

const dull = (albedo: Rgb): Material => ({ albedo, mirror: [0, 0, 0], rough: 0 });
const brass: Material = { albedo: [0.2, 0.13, 0.05], mirror: [0.9, 0.64, 0.3], rough: 0.02 };
const bronze: Material = { albedo: [0.12, 0.07, 0.035], mirror: [0.5, 0.3, 0.15], rough: 0.03 };
const glazed = (albedo: Rgb): Material => ({ albedo, mirror: [0.06, 0.06, 0.06], rough: 0.01 });

export type Globe = { x: number; y: number; z: number; radius: number; light: Rgb };
type Ball = { x: number; y: number; z: number; radius: number; object: number };

export type Scene = {
  objects: { name: string; material: Material }[];
  rings: Ring[];
  balls: Ball[];
  globes: Globe[];
  camera: { x: number; y: number; z: number; right: Rgb; up: Rgb; forward: Rgb; tanHalf: number };
};

const centre: Rgb = [0, 3.55, 0];
/** Radius, thickness, tilt and turn of each ring at frame 1, and its turn a frame, in degrees. */
const ringPlan = [
  { r: 1.35, tilt: 18, turn: 20, speed: 2.6 },
  { r: 2.05, tilt: -27, turn: 75, speed: -1.9 },
  { r: 2.8, tilt: 11, turn: 140, speed: 1.4 },
  { r: 3.6, tilt: -14, turn: 250, speed: -1 },
];
const planets: { ring: number; at: number; radius: number; name: string; material: Material }[] = [
  { ring: 0, at: 200, radius: 0.16, name: 'planet-ember', material: glazed([0.5, 0.13, 0.06]) },
  { ring: 1, at: 20, radius: 0.24, name: 'planet-tide', material: glazed([0.05, 0.16, 0.34]) },
  { ring: 2, at: 265, radius: 0.3, name: 'planet-chalk', material: glazed([0.55, 0.5, 0.42]) },
  { ring: 2, at: 100, radius: 0.17, name: 'planet-moss', material: glazed([0.12, 0.24, 0.1]) },
  { ring: 3, at: 165, radius: 0.36, name: 'planet-rust', material: glazed([0.36, 0.18, 0.09]) },
];
export const globePlan = [
  { ring: 1, at: 232, radius: 0.25, name: 'globe-vesper', light: [14.5, 11.6, 7.4] as Rgb },
  { ring: 3, at: 60, radius: 0.2, name: 'globe-lumen', light: [12.2, 12.0, 11.4] as Rgb },
];

/** Frame of a ring tilted about x by `tilt` and turned about the upright by `turn` degrees. */
function ringFrame(tilt: number, turn: number): Ring['frame'] {
  const [a, b] = [(tilt * Math.PI) / 180, (turn * Math.PI) / 180];
  const [ca, sa, cb, sb] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
  return [
    [cb, 0, -sb],
    [sb * sa, ca, cb * sa],
    [sb * ca, -sa, cb * ca],
  ];
}

/** The hall as it stands on `frame` (from 1). */
export function sceneAt(frame: number): Scene {
  const objects: Scene['objects'] = [];
  const object = (name: string, material: Material) => objects.push({ name, material }) - 1;
  object('floor', { albedo: [0.36, 0.325, 0.28], mirror: [0.075, 0.075, 0.075], rough: 0.012 });
  object('wall', dull([0.56, 0.47, 0.36]));
  object('dome', dull([0.07, 0.1, 0.2]));
  object('colonnade', dull([0.5, 0.45, 0.38]));
  object('meadow', dull([0.075, 0.09, 0.055]));
  object('pedestal', bronze);
  for (const side of ['left', 'right']) {
    for (let i = 0; i < columns.count; i++) {
      object(`column-${side}-${String(i + 1).padStart(2, '0')}`, dull([0.6, 0.55, 0.47]));
    }
  }
  const rings = ringPlan.map((p, i): Ring => {
    const frame3 = ringFrame(p.tilt, p.turn + p.speed * (frame - 1));
    const width = 0.085 + 0.02 * i;
    return {
      centre,
      frame: frame3,
      inner: p.r - width,
      outer: p.r + width,
      half: 0.028,
      object: object(`ring-${i + 1}`, brass),
    };
  });
  const meridian: Ring['frame'] = [
    [1, 0, 0],
    [0, 0, 1],
    [0, -1, 0],
  ];
  const upright: Ring['frame'] = meridian.map((_, i) => {
    const [x, y, z] = meridian[i];
    const turn = -0.5;
    return [x * Math.cos(turn) + z * Math.sin(turn), y, -x * Math.sin(turn) + z * Math.cos(turn)];
  }) as unknown as Ring['frame'];
  rings.push({
    centre,
    frame: upright,
    inner: 3.94,
    outer: 4.08,
    half: 0.05,
    object: object('meridian', bronze),
  });

  const onRing = (index: number, at: number): [number, number, number] => {
    const { frame: f } = rings[index];
    const angle = (at * Math.PI) / 180;
    const [u, w] = [Math.cos(angle) * ringPlan[index].r, Math.sin(angle) * ringPlan[index].r];
    return [0, 1, 2].map((i) => centre[i] + f[0][i] * u + f[2][i] * w) as [number, number, number];
  };
  const balls: Ball[] = [
    {
      x: centre[0],
      y: centre[1],
      z: centre[2],
      radius: 0.52,
      object: object('heart', { ...brass, rough: 0.015 }),
    },
  ];
  for (const p of planets) {
    const [x, y, z] = onRing(p.ring, p.at);
    balls.push({ x, y, z, radius: p.radius, object: object(p.name, p.material) });
  }
  const globes = globePlan.map((g): Globe => {
    const [x, y, z] = onRing(g.ring, g.at);
    balls.push({ x, y, z, radius: g.radius, object: object(g.name, { ...dull([0, 0, 0]), emits: g.light }) });
    return { x, y, z, radius: g.radius, light: g.light };
  });

  const push = (frame - 1) / 23;
  const [x, y, z] = [1.1 - 0.4 * push, 2.35, 11.2 - 0.7 * push];
  const forward = unit(-x * 0.7, 3.15 - y, -z);
  const right = unit(-forward[2], 0, forward[0]);
  const up: Rgb = [
    right[1] * forward[2] - right[2] * forward[1],
    right[2] * forward[0] - right[0] * forward[2],
    right[0] * forward[1] - right[1] * forward[0],
  ];
  return {
    objects,
    rings,
    balls,
    globes,
    camera: { x, y, z, right, up, forward, tanHalf: Math.tan((58 / 2) * (Math.PI / 180)) },
  };
}

const floor = 0;
const wall = 1;
const dome = 2;
const colonnade = 3;
const meadow = 4;
const pedestal = 5;
const firstColumn = 6;

const inArch = (x: number, y: number, { half, spring }: typeof arch) =>
  Math.abs(x) < half && y < spring + Math.sqrt(half * half - x * x);

function drumAt(ray: Ray, hit: Hit, t: number) {
  if (t <= nearest || t >= hit.t) return;
  const y = ray.oy + ray.dy * t;
  if (y < 0 || y > hall.wall + seam) return;
  const x = ray.ox + ray.dx * t;
  const z = ray.oz + ray.dz * t;
  if (z < 0 && inArch(x, y, arch)) return;
  meet(hit, t, -x / hall.radius, 0, -z / hall.radius, wall);
}

function domeAt(ray: Ray, hit: Hit, t: number) {
  if (t <= nearest || t >= hit.t) return;
  const y = ray.oy - hall.wall + ray.dy * t;
  if (y < -seam) return;
  const x = ray.ox + ray.dx * t;
  const z = ray.oz + ray.dz * t;
  const rise = y / hall.radius;
  if (rise > slots.low && rise < slots.high) {
    const turn = (Math.atan2(x, -z) / (2 * Math.PI)) * slots.count;
    if (Math.abs(turn - Math.round(turn)) < slots.half * (1.2 - 0.6 * rise)) return;
  }
  meet(hit, t, -x / hall.radius, -y / hall.radius, -z / hall.radius, dome);
}

/** The drum and the dome, without the arch and the slots that let light in. */
function shell(ray: Ray, hit: Hit) {
  const { radius, wall: top } = hall;
  const a = ray.dx * ray.dx + ray.dz * ray.dz;
  const b = ray.ox * ray.dx + ray.oz * ray.dz;
  const c = ray.ox * ray.ox + ray.oz * ray.oz - radius * radius;
  const d = b * b - a * c;
  if (d <= 0) return;
  const root = Math.sqrt(d);
  drumAt(ray, hit, (-b - root) / a);
  drumAt(ray, hit, (-b + root) / a);
  const y = ray.oy - top;
  const half = b + y * ray.dy;
  const deep = half * half - (c + y * y);
  if (deep <= 0) return;
  const far = Math.sqrt(deep);
  domeAt(ray, hit, -half - far);
  domeAt(ray, hit, -half + far);
}

function ground(ray: Ray, hit: Hit) {
  if (ray.dy >= 0) return;
  const t = -ray.oy / ray.dy;
  if (t <= nearest || t >= hit.t) return;
  const [x, z] = [ray.ox + ray.dx * t, ray.oz + ray.dz * t];
  const inHall = x * x + z * z < hall.radius * hall.radius;
  const inWalk = x > walk.left && x < walk.right && z < walk.start && z > walk.end;
  meet(hit, t, 0, 1, 0, inHall || inWalk ? floor : meadow);
}

function colonnadeParts(ray: Ray, hit: Hit) {
  // A ray that stays on the camera's side of the arch meets nothing here.
  const reach = Math.min(hit.t, 1e6);
  if (ray.oz > walk.start && ray.oz + ray.dz * reach > walk.start) return;
  const { left, right, start, end, roof } = walk;
  const inside = (z: number) => z < start && z > end;
  const side = (left - ray.ox) / ray.dx;
  if (side > nearest && side < hit.t) {
    const [y, z] = [ray.oy + ray.dy * side, ray.oz + ray.dz * side];
    if (y > 0 && y < roof && inside(z)) meet(hit, side, ray.dx < 0 ? 1 : -1, 0, 0, colonnade);
  }
  const above = (roof - ray.oy) / ray.dy;
  if (above > nearest && above < hit.t) {
    const [x, z] = [ray.ox + ray.dx * above, ray.oz + ray.dz * above];
    if (x > left && x < right && inside(z)) meet(hit, above, 0, ray.dy > 0 ? -1 : 1, 0, colonnade);
  }
  const back = (end - ray.oz) / ray.dz;
  if (back > nearest && back < hit.t) {
    const [x, y] = [ray.ox + ray.dx * back, ray.oy + ray.dy * back];
    if (x > left && x < right && y > 0 && y < roof && !inArch(x, y, farArch)) {
      meet(hit, back, 0, 0, ray.dz > 0 ? -1 : 1, colonnade);
    }
  }
  for (const x of [-columns.x, columns.x]) {
    beam(ray, hit, x - 0.42, columns.lintel, end, x + 0.42, roof, start, colonnade);
    const offset = x < 0 ? 0 : columns.count;
    for (let i = 0; i < columns.count; i++) {
      const z = columns.first - i * columns.pitch;
      // Quick way out: the ray's distance to the column's axis, seen from above.
      const cross = (x - ray.ox) * ray.dz - (z - ray.oz) * ray.dx;
      if (cross * cross > 0.4 * (ray.dx * ray.dx + ray.dz * ray.dz)) continue;
      const object = firstColumn + offset + i;
      pillar(ray, hit, x, z, 0.33, 0.3, columns.lintel - 0.35, object);
      pillar(ray, hit, x, z, 0.55, 0, 0.3, object);
      pillar(ray, hit, x, z, 0.52, columns.lintel - 0.35, columns.lintel, object);
    }
  }
}

function orrery(scene: Scene, ray: Ray, hit: Hit) {
  pillar(ray, hit, 0, 0, 1.1, 0, 0.16, pedestal);
  pillar(ray, hit, 0, 0, 0.75, 0.16, 0.4, pedestal);
  pillar(ray, hit, 0, 0, 0.09, 0.4, 3.2, pedestal);
  const [x, y, z] = [ray.ox - centre[0], ray.oy - centre[1], ray.oz - centre[2]];
  const b = x * ray.dx + y * ray.dy + z * ray.dz;
  const passes = x * x + y * y + z * z - b * b;
  if (passes > 4.2 * 4.2) return;
  for (const r of scene.rings) if (passes < r.outer * r.outer + 0.1) ring(ray, hit, r);
  for (const s of scene.balls) sphere(ray, hit, s.x, s.y, s.z, s.radius, s.object);
}

/** The nearest surface along the ray; `t` is infinite where there is only sky. */
export function trace(scene: Scene, ray: Ray, hit: Hit = freshHit()): Hit {
  hit.t = Infinity;
  hit.object = -1;
  ground(ray, hit);
  orrery(scene, ray, hit);
  shell(ray, hit);
  colonnadeParts(ray, hit);
  return hit;
}

const shadow = freshHit();

/** Whether anything stands in the way before `limit` metres. */
export function blocked(scene: Scene, ray: Ray, limit: number): boolean {
  shadow.t = limit;
  for (const part of [shell, ground, colonnadeParts]) {
    part(ray, shadow);
    if (shadow.t < limit) return true;
  }
  orrery(scene, ray, shadow);
  return shadow.t < limit;
}

/** Light of the sky in a direction: pale towards the horizon and the sun, blue above. */
export function sky(dx: number, dy: number, dz: number): Rgb {
  const h = Math.max(0, dy);
  const t = 1 - (1 - h) ** 3;
  const near = Math.max(0, dx * sunward[0] + dy * sunward[1] + dz * sunward[2]) ** 6;
  return [
    1.9 + (0.5 - 1.9) * t + near * 2.4,
    1.95 + (0.95 - 1.95) * t + near * 1.9,
    2.0 + (2.0 - 2.0) * t + near * 1.1,
  ];
}
