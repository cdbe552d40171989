import { gatherLight } from '../../kernels/gather';
import { rangeKey } from '../../kernels/key';
import { combine, withAlpha } from '../../kernels/plane';
import { lightStrength } from '../../kernels/point';
import { frameOf, type Workspace } from '../../kernels/workspace';
import { hashRandom } from '../../math/hash-random';
import type { Picture } from '../../picture/picture';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { angle, number } from '../shared/numbers';
import { centreStart, lightStart } from '../shared/start';
import { middleOfLight, take, takeEditor, takeSlots, tint } from './take';

const place = (name: string, description: string, initial: number) =>
  number('px', 'spread', name, description, initial, { from: -65536, to: 65536, soft: [-1000, 1000] });
const share = (name: string, description: string, initial: number, to = 1) =>
  number('ratio', 'spread', name, description, initial, { from: 0, to, soft: [0, to] });

/** Position of the brightest light; the middle of the picture if there is none. */
export const brightest = (taken: Picture): [number, number] =>
  middleOfLight(taken) ?? [(taken.width - 1) / 2, (taken.height - 1) / 2];

type Beams = {
  beamContrast: number;
  beamCount: number;
  beamRotation: number;
  beamDrift: number;
  beamEvolution: number;
};

/**
 * Gains of beams, from 1 − `beamContrast` to 1, by the turn they go out at: noise, smooth from beam to beam and from frame to frame. `beamDrift` turns
 * them by so many degrees a frame; `beamEvolution` is how many times a frame each takes another gain.
 */
export function beamGains(v: Beams, seed: number, frame: number) {
  const n = Math.max(1, Math.round(v.beamCount));
  const when = frame * v.beamEvolution;
  const [before, t] = [Math.floor(when), smooth(when - Math.floor(when))];
  const at = (i: number, k: number) => hashRandom(seed + 7919 * k, i % n);
  const value = (i: number) => (t === 0 ? at(i, before) : at(i, before) * (1 - t) + at(i, before + 1) * t);
  const gains = Array.from({ length: n }, (_, i) => 1 - v.beamContrast * value(i));
  return (turns: number) => {
    const place = turns - (v.beamRotation + v.beamDrift * frame) / 360;
    const beam = (place - Math.floor(place)) * n;
    const i = Math.min(n - 1, Math.floor(beam));
    const f = smooth(beam - i);
    return gains[i] * (1 - f) + gains[(i + 1) % n] * f;
  };
}

const smooth = (t: number) => t * t * (3 - 2 * t);

function centreOf(workspace: Workspace, picture: Picture, x: number, y: number): [number, number] {
  const frame = frameOf(workspace, picture);
  return [(frame.width - 1) / 2 + x - frame.x, (frame.height - 1) / 2 - y - frame.y];
}

export const lightRays = defineStep({
  id: 'light-rays',
  name: 'Light rays',
  stage: 'light',
  description: 'Shafts of light from a point, or from a distant sun.',
  words: [
    'crepuscular',
    'sunbeams',
    'shafts',
    'beams',
    'volumetric',
    'radial',
    'streaks',
    'window',
    'dust',
    'volume light',
    'god rays',
  ],
  version: 3,
  rare: ['lightDistance', 'beamDrift', 'beamEvolution'],
  slots: {
    ...takeSlots,
    blocker: {
      kind: 'matte',
      section: 'spread',
      name: 'Blocking matte',
      description: 'A matte that stops the rays and casts shadow.',
    },
    depth: {
      kind: 'data',
      section: 'spread',
      name: 'Depth',
      description: 'The depth pass. What is nearer than the light stops the rays.',
    },
    ...keepSlots,
  },
  handles: [
    { type: 'point', name: 'Centre', x: 'centreX', y: 'centreY', onlyIf: ['source', 'point'] },
    { type: 'arm', name: 'Direction', angle: 'angle', onlyIf: ['source', 'direction'] },
  ],
  values: {
    ...take,
    source: {
      type: 'choice',
      section: 'spread',
      name: 'Source',
      description: 'Where the rays come from.',
      options: { point: 'Centre point', brightest: 'Brightest light', direction: 'Distant sun' },
      default: 'point',
    },
    centreX: {
      ...place('Centre x', 'From the middle of the picture to the right. It can be outside.', 0),
      onlyIf: ['source', 'point'],
    },
    centreY: {
      ...place('Centre y', 'From the middle of the picture upwards. It can be outside.', 200),
      onlyIf: ['source', 'point'],
    },
    angle: angle(
      'spread',
      'Direction',
      'Direction of a distant sun’s light, counter-clockwise from the right.',
      -60,
      { onlyIf: ['source', 'direction'] },
    ),
    length: {
      ...share('Length', 'Length of a ray, relative to the distance from the centre.', 0.7),
      onlyIf: ['source', 'point', 'brightest'],
    },
    reach: {
      ...place('Reach', 'Length of a distant sun’s rays.', 400),
      from: 1,
      soft: [10, 1500],
      onlyIf: ['source', 'direction'],
    },
    falloff: share(
      'Falloff',
      'Decrease of light along the ray: constant at 0, concentrated at the source at 2.',
      1,
      2,
    ),
    black: { ...share('Black point', 'Luminance that becomes 0.', 0), to: 100 },
    white: {
      ...share('White point', 'Luminance that stays unchanged.', 1),
      from: 0.001,
      to: 1000,
      soft: [0, 4],
    },
    gamma: {
      ...share('Gamma', 'Above 1 raises faint rays, below 1 lowers them.', 1),
      from: 0.1,
      to: 10,
      soft: [0.2, 4],
    },
    lightDistance: number(
      'scene',
      'spread',
      'Light distance',
      'Depth of the light. Everything nearer stops its rays.',
      0,
      {
        from: 0,
        to: 1e6,
        soft: [0, 100],
        zeroLabel: 'sky',
      },
    ),
    beamContrast: share('Beam contrast', 'Difference in brightness between beams.', 0),
    beamCount: {
      ...share('Beam count', 'Number of beams around the centre, or across the picture.', 60, 2000),
      from: 1,
      soft: [8, 200],
    },
    beamRotation: angle('spread', 'Beam rotation', 'Rotation of the beams about the centre.', 0, {
      soft: [-180, 180],
    }),
    beamDrift: number('degrees', 'spread', 'Beam drift', 'Movement of the beams per frame.', 0, {
      from: -90,
      to: 90,
      soft: [-2, 2],
    }),
    beamEvolution: number(
      'ratio',
      'spread',
      'Beam evolution',
      'Changes of a beam’s brightness per frame.',
      0,
      {
        from: 0,
        to: 1,
        soft: [0, 0.25],
      },
    ),
    tint,
    ...keep,
    ...lay,
    amount: { ...lay.amount, default: 1 },
  },
  editors: [takeEditor],
  summaryValue: 'length',
  start: (facts) => ({ ...lightStart(facts), ...centreStart(facts) }),
  neutral: addsNothing,
  dependsOnFrame: (v) => v.beamContrast > 0 && (v.beamDrift !== 0 || v.beamEvolution > 0),
  // Rays cross the whole picture.
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, picture, slots, v, _neighbours, frame = 0) {
    return lightStep(workspace, picture, slots, v, v.tint, (taken) => {
      const { falloff } = v;
      const byAngle = v.beamContrast > 0 ? beamGains(v, 7, frame) : undefined;
      const ray =
        v.source === 'direction'
          ? ({ angle: v.angle, length: v.reach, falloff, byAngle } as const)
          : ({
              centre:
                v.source === 'brightest'
                  ? brightest(taken)
                  : centreOf(workspace, picture, v.centreX, v.centreY),
              length: v.length,
              falloff,
              byAngle,
            } as const);
      const blocking = standsInTheWay(workspace, slots, v.lightDistance);
      // What stands in the way goes along as the light's alpha.
      const source = blocking ? withAlpha(workspace, taken, blocking) : taken;
      return lightStrength(
        workspace,
        gatherLight(workspace, source, { ...ray, blocked: blocking !== undefined }),
        v,
      );
    });
  },
});

/** The matte of what stops rays: the one given, and all that is nearer than the light; beyond everything there is, where that is 0. */
function standsInTheWay(
  workspace: Workspace,
  { blocker, depth }: { blocker?: Picture; depth?: Picture },
  distance: number,
): Picture | undefined {
  if (!depth) return blocker;
  const high = distance > 0 ? distance : sky;
  // A light's own surface does not stop it.
  const nearer = rangeKey(workspace, depth, 'red', {
    low: -sky,
    lowSoft: 0,
    high: high * 0.98,
    highSoft: high * 0.02,
  });
  return blocker ? combine(workspace, blocker, nearer, 'union') : nearer;
}

/** Depths from here on are the sky. */
const sky = 1e6;
