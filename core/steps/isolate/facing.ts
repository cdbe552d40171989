import { facingKey, facingMeasures } from '../../kernels/key';
import { defineStep, type NumberSpec } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';

const place = (name: string) =>
  ({
    type: 'number',
    section: 'spread',
    name,
    description: 'Camera position in scene units.',
    unit: 'scene',
    default: 0,
    from: -1e6,
    to: 1e6,
    soft: [-100, 100],
    onlyIf: ['camera', 'typed'],
  }) as const satisfies NumberSpec;

export const facing = defineStep({
  id: 'facing',
  name: 'Facing',
  stage: 'isolate',
  description: 'A matte from the angle between surface and view, from a normal pass.',
  sourceQuestion: 'which angle?',
  words: ['fresnel', 'rim', 'grazing', 'angle', 'normal', 'view', 'mask', 'incidence', 'silhouette'],
  version: 1,
  rare: ['cameraX', 'cameraY', 'cameraZ', 'facingCamera'],
  accepts: ['data', 'picture'],
  produces: 'matte',
  slots: {
    positions: {
      kind: 'data',
      section: 'take',
      name: 'Positions',
      description:
        'The position pass, for normals in world space. Without it normals are read in camera space.',
    },
    ...keepSlots,
  },
  values: {
    measure: {
      type: 'choice',
      section: 'take',
      name: 'Measure',
      description: 'The facing ratio, or the Fresnel reflectance of such a surface.',
      options: facingMeasures,
      default: 'facing',
    },
    index: number(
      'ratio',
      'take',
      'Refractive index',
      'Water 1.33, glass 1.5, polished stone about 1.6. Used by both Fresnel measures.',
      1.5,
      { from: 1, to: 10, soft: [1, 3], onlyIf: ['measure', 'schlick', 'exact'] },
    ),
    camera: {
      type: 'choice',
      section: 'spread',
      name: 'Camera',
      description: 'Camera position, used with a position pass.',
      options: { file: 'From the files', typed: 'Typed values' },
      default: 'file',
    },
    cameraX: place('Camera x'),
    cameraY: place('Camera y'),
    cameraZ: place('Camera z'),
    view: number(
      'degrees',
      'spread',
      'Angle of view',
      'Horizontal angle of view, for normals in camera space.',
      54,
      { from: 1, to: 170, soft: [10, 120] },
    ),
    black: number('ratio', 'lay', 'Black point', 'Value that becomes 0.', 0, {
      from: 0,
      to: 0.999,
      soft: [0, 0.999],
    }),
    gamma: number(
      'ratio',
      'lay',
      'Gamma',
      'Exponent of the ramp. Above 1 widens the edge, below 1 narrows it.',
      1,
      {
        from: 0.05,
        to: 20,
        soft: [0.2, 5],
      },
    ),
    facingCamera: {
      type: 'toggle',
      section: 'lay',
      name: 'Facing the camera',
      description: 'The complement: surfaces that face the camera.',
      default: false,
    },
    ...keep,
  },
  summaryValue: 'measure',
  neutral: () => false,
  reach: () => 0,
  // Normals in camera space need no place of the camera: it is their origin.
  camera: (v, linked) => v.camera === 'file' && linked.includes('positions'),
  run(workspace, normals, { positions, mask }, v) {
    const { measure, index, black, gamma } = v;
    const view = positions
      ? { camera: [v.cameraX, v.cameraY, v.cameraZ] as const, positions }
      : { angle: v.view };
    const matte = facingKey(workspace, normals, {
      measure,
      index,
      black,
      gamma,
      invert: v.facingCamera,
      view,
    });
    return maskedKey(workspace, matte, { mask }, v.invert);
  },
});
