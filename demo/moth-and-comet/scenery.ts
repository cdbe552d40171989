import { cosTurns, sinTurns } from '../../core/math/elementary';
import { hashRandom } from '../../core/math/hash-random';
import { ellipse, type PathPoint, rectangle } from '../../core/math/path';
import type { Stroke } from './paint';
import { at, ink, type Spot, smooth } from './paths';
import { cometAtRest, type Pose } from './pose';

/** What the moth flies through: the painted sky, the comet with its tail, the glass bell. */

const line = '#241626';

/** A brush's mark of a cloud: long, low and soft. */
const cloud = (x: number, y: number, w: number, h: number, colour: string, opacity: number): Stroke => ({
  paths: [
    smooth([
      [x - w, y + h * 0.4],
      [x - w * 0.55, y - h * 0.5],
      [x - w * 0.1, y - h],
      [x + w * 0.4, y - h * 0.55],
      [x + w, y + h * 0.1],
      [x + w * 0.5, y + h * 0.75],
      [x - w * 0.3, y + h],
    ]),
  ],
  colour,
  opacity,
  soft: h * 0.8,
});

/** From the lower left to the upper right, `half` as wide. */
const river = (half: number, lower: number): PathPoint[] => {
  const way: Spot[] = [
    [-260, 80],
    [40, 130],
    [380, 170],
    [740, 110],
    [1120, 10],
    [1560, -120],
  ];
  const [upper, under] = [-half, half].map((by) => way.map(([x, y]): Spot => [x, y + lower * 0.4 + by]));
  return smooth([...upper, ...under.reverse()]);
};

export function sky(): Stroke[] {
  const all: PathPoint[] = rectangle(-400, -400, 1680, 1120);
  const sections: [number, string][] = [
    [150, '#122046'],
    [270, '#1b2c58'],
    [390, '#2b3a69'],
    [500, '#454676'],
    [590, '#665176'],
    [655, '#8d6272'],
  ];
  const random = (i: number) => hashRandom(11, i);
  const stars = (n: number, from: number, least: number, most: number) =>
    Array.from({ length: n }, (_, i): PathPoint[] => {
      const k = (from + i) * 3;
      const y = random(k + 1) ** 1.5 * 560;
      const r = least + (most - least) * random(k + 2) ** 3;
      return ellipse(random(k) * 1280, y, r, r);
    });
  const clouds = Array.from({ length: 26 }, (_, i): Stroke => {
    const [u, w] = [random(900 + i * 4), random(901 + i * 4)];
    const y = 330 + 330 * u;
    const warm = u > 0.55;
    return cloud(
      1280 * w,
      y,
      130 + 240 * random(902 + i * 4),
      10 + 26 * random(903 + i * 4),
      warm ? (i % 2 ? '#b37f83' : '#7b5a7d') : i % 2 ? '#53608f' : '#26345f',
      0.34,
    );
  });
  const hills = (y: number, high: number, seed: number): PathPoint[] =>
    smooth([
      [-80, 900],
      ...Array.from({ length: 13 }, (_, i): Spot => [i * 115 - 50, y - high * hashRandom(seed, i)]),
      [1400, 900],
    ]);
  const moon: Spot = [1092, 128];
  return [
    { paths: [all], colour: '#0b1634' },
    ...sections.map(([y, colour]): Stroke => ({ paths: [rectangle(-600, y, 1880, 1400)], colour, soft: 95 })),
    // The sky's own river of stars.
    {
      paths: [river(70, 0)],
      colour: '#4a5c96',
      opacity: 0.34,
      soft: 70,
    },
    { paths: [river(30, 26)], colour: '#8390c4', opacity: 0.24, soft: 42 },
    { paths: stars(260, 0, 0.5, 1.3), colour: '#9fb2e0', opacity: 0.8 },
    { paths: stars(70, 300, 0.8, 2.2), colour: '#f3ecd2' },
    { paths: [ellipse(...moon, 150, 150)], colour: '#8ea4d6', opacity: 0.22, soft: 120 },
    { paths: [ellipse(...moon, 66, 66)], colour: '#c9d6f2', opacity: 0.3, soft: 30 },
    { paths: [ellipse(...moon, 46, 46)], colour: '#f1ecd6', soft: 0.7 },
    {
      paths: [
        ellipse(moon[0] - 14, moon[1] - 8, 9, 8),
        ellipse(moon[0] + 12, moon[1] + 14, 13, 11),
        ellipse(moon[0] + 18, moon[1] - 16, 6, 6),
      ],
      colour: '#d3cfc4',
      soft: 3,
      opacity: 0.8,
    },
    ...clouds,
    { paths: [hills(640, 80, 3)], colour: '#3a2f4f', soft: 3 },
    { paths: [hills(690, 70, 4)], colour: '#231d36', soft: 1.5 },
    { paths: [hills(722, 50, 5)], colour: '#120f20', soft: 0.6 },
  ];
}

/** The one plain drawing of the comet's tail, where the comet is at rest: its shape, in one colour. */
export function tail(): Stroke[] {
  const [x, y] = cometAtRest;
  const path = smooth([
    [x + 6, y - 37],
    [x - 62, y - 50],
    [x - 150, y - 30],
    [x - 226, y - 52],
    [x - 318, y - 26],
    [x - 420, y - 44],
    [x - 520, y - 20],
    [x - 690, y - 34],
    [x - 560, y + 2],
    [x - 470, y + 6],
    [x - 560, y + 44],
    [x - 420, y + 30],
    [x - 330, y + 28],
    [x - 400, y + 74],
    [x - 262, y + 46],
    [x - 170, y + 40],
    [x - 216, y + 84],
    [x - 96, y + 52],
    [x + 2, y + 37],
  ]);
  return [{ paths: [path], colour: '#e28a3c' }];
}

/** The comet's stone, as hot as it is. */
export function comet({ comet: [x, y], drawing }: Pose): Stroke[] {
  const spots = Array.from({ length: 11 }, (_, i): Spot => {
    const r = 39 + 3.5 * sinTurns(i * 0.37 + 0.2);
    return [x + cosTurns(i / 11) * r, y - sinTurns(i / 11) * r];
  });
  const stone = smooth(spots);
  const cracks: [Spot, Spot, Spot][] = [
    [
      [-22, -18],
      [-4, -8],
      [6, 12],
    ],
    [
      [6, 12],
      [18, 14],
      [28, 24],
    ],
    [
      [-4, -8],
      [12, -20],
      [20, -30],
    ],
    [
      [-30, 10],
      [-16, 12],
      [-8, 26],
    ],
  ];
  return [
    { paths: [stone], colour: '#f0b04e' },
    { paths: [ellipse(x + 8, y - 6, 28, 26)], colour: '#ffd98a', within: stone },
    { paths: [ellipse(x + 13, y - 10, 15, 14)], colour: '#fff3d0', within: stone },
    {
      paths: cracks.flatMap((c, i) => ink(smooth(c.map(at(x, y)), false), false, 3.4, i)),
      colour: '#8a4a24',
    },
    { paths: ink(stone, true, 3.4, drawing), colour: line },
  ];
}

export const glassColour = '#5f9aa6';

/** A glass bell on a cord, in front of all else. */
export function bell({ swing, drawing }: Pose): Stroke[] {
  const place = at(318, -60, swing);
  const way = (spots: readonly Spot[], closed = true) => smooth(spots.map(place), closed);
  const half: Spot[] = [
    [12, 226],
    [40, 240],
    [62, 276],
    [74, 338],
    [86, 402],
    [112, 452],
    [124, 470],
  ];
  const glass = way([
    ...half,
    [62, 486],
    [0, 490],
    [-62, 486],
    ...half.map(([x, y]): Spot => [-x, y]).reverse(),
    [0, 222],
  ]);
  const lip = way(
    [
      [-124, 470],
      [-62, 486],
      [0, 490],
      [62, 486],
      [124, 470],
    ],
    false,
  );
  const [bx, by] = place([4, 452]);
  const [cx, cy] = place([0, 208]);
  return [
    {
      paths: ink(
        way(
          [
            [0, -40],
            [1, 60],
            [-1, 130],
            [0, 196],
          ],
          false,
        ),
        false,
        8,
        1,
      ),
      colour: '#4b3540',
    },
    { paths: [glass], colour: glassColour },
    { paths: ink(glass, true, 4.2, drawing), colour: line },
    { paths: ink(lip, false, 9, 2), colour: line },
    // What hangs in it, and where the moon is seen in it.
    {
      paths: ink(
        way(
          [
            [0, 226],
            [3, 330],
            [4, 436],
          ],
          false,
        ),
        false,
        5,
        3,
      ),
      colour: '#6b4a33',
    },
    { paths: [ellipse(bx, by, 17, 17)], colour: '#b98542' },
    { paths: ink(ellipse(bx, by, 17, 17), true, 3.2, 4), colour: line },
    { paths: [ellipse(bx - 5, by - 6, 5, 5)], colour: '#f3d99b' },
    {
      paths: ink(
        way(
          [
            [48, 262],
            [62, 318],
            [70, 378],
            [88, 428],
          ],
          false,
        ),
        false,
        11,
        5,
      ),
      colour: '#e6fbff',
      opacity: 0.9,
    },
    {
      paths: ink(
        way(
          [
            [-58, 300],
            [-68, 352],
            [-80, 400],
          ],
          false,
        ),
        false,
        5,
        6,
      ),
      colour: '#bfe6ee',
      opacity: 0.8,
    },
    { paths: [ellipse(cx, cy, 22, 15)], colour: '#b98542' },
    { paths: ink(ellipse(cx, cy, 22, 15), true, 3.4, 7), colour: line },
    { paths: [ellipse(cx - 6, cy - 5, 7, 4)], colour: '#f3d99b' },
  ];
}
