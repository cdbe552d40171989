import { luminance } from '../../colour/luminance';
import { chance } from '../../kernels/chance';
import { type Desk, frameOf } from '../../kernels/desk';
import { gatherLight } from '../../kernels/lines';
import { withAlpha } from '../../kernels/plane';
import { lightStrength } from '../../kernels/point';
import type { Picture } from '../../picture/picture';
import { defineStep } from '../define';
import { angle, number } from '../numbers';
import { addsNothing, keep, keepSlots, lay, lightStep } from './lay';
import { take, takeSlots, tint } from './take';

const place = (name: string, says: string, initial: number) =>
  number('px', 'spread', name, says, initial, { from: -65536, to: 65536, soft: [-1000, 1000] });
const share = (name: string, says: string, initial: number, to = 1) =>
  number('ratio', 'spread', name, says, initial, { from: 0, to, soft: [0, to] });

/** Where the taken light is brightest: the middle of it, weighted by the square of its luminance; the picture's if there is none. */
export function brightest({ width, height, data }: Picture): [number, number] {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const l = luminance(data[p], data[p + 1], data[p + 2]);
      if (!(l > 0)) continue;
      const weight = l * l;
      sum += weight;
      sx += weight * x;
      sy += weight * y;
    }
  }
  return sum > 0 ? [sx / sum, sy / sum] : [(width - 1) / 2, (height - 1) / 2];
}

/** Gains of beams around a circle: smooth noise, from 1 − depth to 1; `size` is how many beams there are. */
export function beams(depth: number, count: number, turn: number, seed: number) {
  const n = Math.max(1, Math.round(count));
  return (turns: number) => {
    const place = ((((turns - turn / 360) % 1) + 1) % 1) * n;
    const i = Math.floor(place);
    const t = place - i;
    const smooth = t * t * (3 - 2 * t);
    const value = chance(seed, i % n) * (1 - smooth) + chance(seed, (i + 1) % n) * smooth;
    return 1 - depth * value;
  };
}

function centreOf(desk: Desk, picture: Picture, x: number, y: number): [number, number] {
  const frame = frameOf(desk, picture);
  return [(frame.width - 1) / 2 + x - frame.x, (frame.height - 1) / 2 - y - frame.y];
}

export const lightRays = defineStep({
  id: 'light-rays',
  name: 'Light rays',
  stage: 'light',
  says: 'Shafts of light that go out from a place, or come from a far sun.',
  version: 1,
  slots: {
    ...takeSlots,
    blocks: {
      kind: 'matte',
      band: 'spread',
      name: 'Blocked by',
      says: 'The matte at which rays stop: behind it is shadow.',
    },
    ...keepSlots,
  },
  handles: [
    { sort: 'point', name: 'Centre', x: 'centreX', y: 'centreY', onlyIf: ['from', 'point'] },
    { sort: 'arm', name: 'Direction', angle: 'angle', onlyIf: ['from', 'direction'] },
  ],
  values: {
    ...take,
    from: {
      type: 'choice',
      band: 'spread',
      name: 'From',
      says: 'Where the rays come from.',
      options: { point: 'The centre', brightest: 'The brightest taken light', direction: 'A far sun' },
      default: 'point',
    },
    centreX: {
      ...place('Centre x', 'From the middle of the picture to the right; may lie outside.', 0),
      onlyIf: ['from', 'point'],
    },
    centreY: {
      ...place('Centre y', 'From the middle of the picture upwards; may lie outside.', 200),
      onlyIf: ['from', 'point'],
    },
    angle: angle(
      'spread',
      'Direction',
      'In which the light of a far sun goes, counter-clockwise from the right.',
      -60,
      { onlyIf: ['from', 'direction'] },
    ),
    length: {
      ...share('Length', 'Part of the way to the centre that a ray reaches over.', 0.7),
      onlyIf: ['from', 'point', 'brightest'],
    },
    reach: {
      ...place('Reach', 'How far the light of a far sun is carried.', 400),
      from: 1,
      soft: [10, 1500],
      onlyIf: ['from', 'direction'],
    },
    falloff: share(
      'Falloff',
      'How the light thins out along its way: evenly lit at 0, most near its source at 2.',
      1,
      2,
    ),
    black: { ...share('Black point', 'Rays up to this luminance are dropped.', 0), to: 100 },
    white: {
      ...share('White point', 'A ray of this luminance keeps it.', 1),
      from: 0.001,
      to: 1000,
      soft: [0, 4],
    },
    gamma: {
      ...share('Gamma', 'Above 1 faint rays grow, below 1 they fade.', 1),
      from: 0.1,
      to: 10,
      soft: [0.2, 4],
    },
    breaks: share('Broken up', 'How much darker some beams are than others.', 0),
    beams: { ...share('Beams', 'How many beams go around.', 60, 2000), from: 1, soft: [8, 200] },
    turn: number(
      'degrees',
      'spread',
      'Beam turn',
      'Turns the beams about the centre: move it over time and they drift.',
      0,
      { from: -36000, to: 36000, soft: [-180, 180] },
    ),
    tint,
    ...keep,
    ...lay,
    amount: { ...lay.amount, default: 1 },
  },
  telling: 'length',
  neutral: addsNothing,
  // Rays cross the whole picture.
  reach: () => Number.POSITIVE_INFINITY,
  run(desk, picture, slots, v) {
    return lightStep(desk, picture, slots, v, v.tint, (taken) => {
      const { falloff } = v;
      const way =
        v.from === 'direction'
          ? ({ angle: v.angle, length: v.reach, falloff } as const)
          : ({
              centre:
                v.from === 'brightest' ? brightest(taken) : centreOf(desk, picture, v.centreX, v.centreY),
              length: v.length,
              falloff,
              ...(v.breaks > 0 ? { byAngle: beams(v.breaks, v.beams, v.turn, 7) } : {}),
            } as const);
      const { blocks } = slots;
      // What stands in the way goes along as the light's alpha.
      const source = blocks ? withAlpha(desk, taken, blocks) : taken;
      return lightStrength(desk, gatherLight(desk, source, { ...way, blocked: blocks !== undefined }), v);
    });
  },
});
