import { positionKey, type Solid } from '../../kernels/key';
import { defineStep, type NumberSpec } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';

const far = 1e6;
const coordinate = (axis: string) =>
  number('scene', 'take', `Centre ${axis}`, `Centre of the volume in scene units, along ${axis}.`, 0, {
    from: -far,
    to: far,
    soft: [-20, 20],
  });
const length = (name: string, description: string, shape: string, initial = 1) => ({
  ...number('scene', 'spread', name, description, initial, { from: 0, to: far, soft: [0, 20] }),
  onlyIf: ['shape', shape] as const,
});
const direction = (axis: string, initial: number): NumberSpec => ({
  ...number(
    'ratio',
    'spread',
    `Normal ${axis}`,
    'Normal of the plane. The matte is behind the plane.',
    initial,
    {
      from: -1,
      to: 1,
      soft: [-1, 1],
    },
  ),
  onlyIf: ['shape', 'plane'],
});

export const positionSolid = defineStep({
  id: 'position-solid',
  name: 'Position solid',
  stage: 'isolate',
  description: 'A matte of a sphere, a box or a half space in the scene, from a position pass.',
  sourceQuestion: 'where?',
  words: ['sphere', 'box', 'plane', 'place', 'volume', 'mask', 'coordinates', 'world space'],
  version: 1,
  accepts: ['data', 'picture'],
  produces: 'matte',
  slots: keepSlots,
  values: {
    shape: {
      type: 'choice',
      section: 'take',
      name: 'Solid',
      description: 'Shape of the volume.',
      options: { sphere: 'Sphere', box: 'Box', plane: 'Half space' },
      default: 'sphere',
    },
    centreX: coordinate('x'),
    centreY: coordinate('y'),
    centreZ: coordinate('z'),
    radius: length('Radius', 'Of the sphere.', 'sphere'),
    halfX: length('Half width', 'Of the box, along x.', 'box'),
    halfY: length('Half height', 'Of the box, along y.', 'box'),
    halfZ: length('Half depth', 'Of the box, along z.', 'box'),
    normalX: direction('x', 0),
    normalY: direction('y', 1),
    normalZ: direction('z', 0),
    soft: number('scene', 'spread', 'Softness', 'Width of the ramp outside the solid.', 0.5, {
      from: 0,
      to: far,
      soft: [0, 10],
    }),
    ...keep,
  },
  editors: [{ kind: 'place', section: 'take', coordinates: ['centreX', 'centreY', 'centreZ'] }],
  summaryValue: 'shape',
  neutral: () => false,
  reach: () => 0,
  run(workspace, positions, slots, v) {
    const key = positionKey(workspace, positions, [v.centreX, v.centreY, v.centreZ], solidOf(v), v.soft);
    return maskedKey(workspace, key, slots, v.invert);
  },
});

type Given = {
  shape: string;
  radius: number;
  halfX: number;
  halfY: number;
  halfZ: number;
  normalX: number;
  normalY: number;
  normalZ: number;
};

function solidOf(v: Given): Solid {
  if (v.shape === 'sphere') return { kind: 'sphere', radius: v.radius };
  if (v.shape === 'box') return { kind: 'box', half: [v.halfX, v.halfY, v.halfZ] };
  const n = [v.normalX, v.normalY, v.normalZ] as const;
  const long = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
  // A plane without a direction lies level.
  return { kind: 'plane', normal: long > 0 ? [n[0] / long, n[1] / long, n[2] / long] : [0, 1, 0] };
}
