import { ellipse, type PathPoint } from '../../core/math/path';
import type { Stroke } from './paint';
import { at, furry, ink, type Spot, smooth } from './paths';
import type { Pose } from './pose';

/** The moth, cut out in parts: body, two wings, eyes, and the shade on its body. */

const line = '#241626';
const fur = { light: '#ecd3a6', warm: '#cfa374', dark: '#8d6150' };
const wing = { near: '#c58a94', far: '#8f6a86', band: '#6d4560', spot: '#e9b75c', deep: '#2c2438' };

type StrandPoint = (spot: Spot) => Spot;
const placed = (place: StrandPoint, spots: readonly Spot[]) => spots.map(place);
const round = (place: StrandPoint, spot: Spot, r: number, ry = r): PathPoint[] => {
  const [x, y] = place(spot);
  return ellipse(x, y, r, ry);
};
/** A shape in one colour with its line of ink. */
const drawn = (path: PathPoint[], colour: string, width: number, seed: number, opacity = 1): Stroke[] => [
  { paths: [path], colour, opacity },
  { paths: ink(path, true, width, seed), colour: line },
];

const abdomen: Spot[] = [
  [22, -26],
  [-34, -24],
  [-86, -2],
  [-128, 30],
  [-146, 50],
  [-122, 56],
  [-84, 50],
  [-32, 38],
  [18, 32],
];
const forewing: Spot[] = [
  [0, 0],
  [-14, -70],
  [-44, -142],
  [-92, -202],
  [-128, -222],
  [-150, -204],
  [-156, -160],
  [-150, -110],
  [-128, -62],
  [-74, -18],
];
const hindwing: Spot[] = [
  [-8, 2],
  [-66, -46],
  [-132, -70],
  [-178, -62],
  [-190, -24],
  [-172, 14],
  [-186, 58],
  [-160, 60],
  [-126, 38],
  [-62, 26],
];
const frontOf = (p: Pose): StrandPoint => at(p.x, p.y);
const wingPlace = (p: Pose, far: boolean): StrandPoint => {
  return at(
    p.x + (far ? 44 : 20),
    p.y - (far ? 26 : 18),
    (far ? -46 : -6) + p.flap * (far ? 15 : 19),
    far ? 0.86 : 1,
  );
};

function oneWing(p: Pose, far: boolean): Stroke[] {
  const place = wingPlace(p, far);
  const colour = far ? wing.far : wing.near;
  const front = smooth(placed(place, forewing));
  const back = smooth(placed(place, hindwing));
  const veins = (from: Spot, ends: readonly Spot[]) =>
    ends.flatMap((to, i) => {
      const bent: Spot = [(from[0] + to[0]) / 2 + (i % 2 ? 5 : -6), (from[1] + to[1]) / 2 - 4];
      return ink(smooth(placed(place, [from, bent, to]), false), false, far ? 1.8 : 2.4, i);
    });
  const membrane = far ? 0.62 : 0.72;
  const hind = placed(place, [
    [-178, -62],
    [-190, -24],
    [-172, 14],
    [-186, 58],
  ]);
  return [
    ...drawn(back, colour, far ? 2.4 : 3, p.drawing + 3, membrane),
    { paths: ink(smooth(hind, false), false, 20, 2), colour: wing.band, within: back, opacity: 0.7 },
    {
      paths: veins(
        [-10, 0],
        [
          [-150, -56],
          [-174, -18],
          [-168, 40],
        ],
      ),
      colour: line,
      opacity: 0.75,
      within: back,
    },
    ...drawn(front, colour, far ? 2.6 : 3.4, p.drawing, membrane),
    {
      paths: ink(
        smooth(
          placed(place, [
            [-96, -206],
            [-128, -222],
            [-152, -200],
            [-157, -160],
            [-150, -108],
            [-128, -60],
          ]),
          false,
        ),
        false,
        30,
        1,
      ),
      colour: wing.band,
      within: front,
      opacity: 0.72,
    },
    {
      paths: veins(
        [-2, -4],
        [
          [-96, -190],
          [-138, -196],
          [-148, -150],
          [-142, -104],
          [-116, -56],
        ],
      ),
      colour: line,
      opacity: 0.75,
      within: front,
    },
    ...spot(place, [-104, -128], far ? 21 : 25),
    ...spot(place, [-134, -14], far ? 13 : 16),
  ];
}

/** Rings in each other, as moths wear them against birds. */
const spot = (place: StrandPoint, where: Spot, r: number): Stroke[] => [
  { paths: [round(place, where, r)], colour: wing.deep },
  { paths: [round(place, where, r * 0.78)], colour: wing.spot },
  { paths: [round(place, where, r * 0.5)], colour: wing.deep },
  { paths: [round(place, [where[0] - r * 0.14, where[1] - r * 0.18], r * 0.15)], colour: '#f6e6c4' },
];

export const farWing = (p: Pose): Stroke[] => oneWing(p, true);
export const nearWing = (p: Pose): Stroke[] => oneWing(p, false);

/** Middle of the abdomen's tip, which glows in the finish. */
export const lantern = (p: Pose): Spot => frontOf(p)([-104, 30]);

const thoraxOf = (place: StrandPoint, p: Pose) => furry(place([36, 0]), 50, 42, 17, 0.1, p.drawing);
const headOf = (place: StrandPoint) => round(place, [94, -14], 27, 26);

export function body(p: Pose): Stroke[] {
  const place = frontOf(p);
  const tail = smooth(placed(place, abdomen));
  const sections = [-6, -40, -72, -102].flatMap((x, i): Stroke[] => {
    const [top, bottom] = [-30 + i * 9, 44 + i * 6];
    const outline = smooth(
      placed(place, [
        [x + 6, top],
        [x - 7, (top + bottom) / 2],
        [x + 2, bottom],
      ]),
      false,
    );
    return [{ paths: ink(outline, false, 15 - i * 2, i), colour: fur.dark, within: tail, opacity: 0.85 }];
  });
  const feeler = (to: Spot, bend: Spot, seed: number): Stroke[] => {
    const outline = smooth(placed(place, [[104, -34], bend, to]), false);
    const barbs = [0.3, 0.42, 0.54, 0.66, 0.78, 0.9].flatMap((t) => {
      const u = 1 - t;
      const on = [0, 1].map((k) => u * u * [104, -34][k] + 2 * u * t * bend[k] + t * t * to[k]);
      return [1, -1].flatMap((side) =>
        ink(
          smooth(
            placed(place, [
              [on[0], on[1]],
              [on[0] + side * 9 + 5, on[1] - 7 + side * 7],
              [on[0] + side * 12 + 9, on[1] - 9 + side * 11],
            ]),
            false,
          ),
          false,
          2,
          seed,
        ),
      );
    });
    return [{ paths: [...ink(outline, false, 3.6, seed), ...barbs], colour: line }];
  };
  const leg = (from: Spot, knee: Spot, foot: Spot, i: number): Stroke => ({
    paths: ink(smooth([place(from), place(knee), at(p.comet[0], p.comet[1])(foot)], false), false, 5.4, i),
    colour: line,
  });
  const head = headOf(place);
  return [
    leg([58, 26], [86, 62], [6, -38], 1),
    ...drawn(tail, fur.warm, 3.2, p.drawing + 5),
    ...sections,
    {
      paths: ink(
        smooth(
          placed(place, [
            [10, -16],
            [-44, -12],
            [-98, 18],
          ]),
          false,
        ),
        false,
        9,
        4,
      ),
      colour: fur.light,
      within: tail,
      opacity: 0.8,
    },
    ...feeler([176, -92], [126, -92], 1),
    ...feeler([150, -112], [104, -86], 2),
    ...drawn(thoraxOf(place, p), fur.light, 3.2, p.drawing + 7),
    {
      paths: Array.from({ length: 9 }, (_, i) =>
        ink(
          smooth(
            placed(place, [
              [8 + i * 7, -20 + ((i * 13) % 30)],
              [2 + i * 7, -8 + ((i * 13) % 30)],
              [-1 + i * 7, 4 + ((i * 13) % 30)],
            ]),
            false,
          ),
          false,
          3,
          i,
        ),
      ).flat(),
      colour: fur.warm,
    },
    ...drawn(head, fur.light, 3, p.drawing + 2),
    leg([38, 36], [62, 82], [-16, -36], 2),
    leg([74, 20], [118, 54], [28, -28], 3),
  ];
}

export function eyes(p: Pose): Stroke[] {
  const place = frontOf(p);
  const blink = p.drawing === 8 ? 0.25 : 1;
  const eye = (where: Spot, r: number): Stroke[] => [
    { paths: [round(place, where, r, r * 1.08 * blink)], colour: '#12303a' },
    {
      paths: [round(place, [where[0] + r * 0.1, where[1] + r * 0.12], r * 0.72, r * 0.78 * blink)],
      colour: '#2fa7a0',
    },
    {
      paths: [round(place, [where[0] + r * 0.3, where[1] - r * 0.34], r * 0.24, r * 0.26 * blink)],
      colour: '#f4fff4',
    },
  ];
  return [...eye([113, -21], 7.5), ...eye([97, -17], 12.5)];
}

/** The side of the body away from the moon: under it, and behind the head. */
export function formShade(p: Pose): Stroke[] {
  const place = frontOf(p);
  const under: Spot[] = [
    [24, 8],
    [-30, 12],
    [-82, 32],
    [-124, 47],
    [-150, 60],
    [-120, 72],
    [-40, 62],
    [40, 58],
    [84, 34],
    [118, 8],
    [104, -2],
    [82, 4],
    [60, 14],
  ];
  return [{ paths: [smooth(placed(place, under))], colour: '#000000' }];
}
