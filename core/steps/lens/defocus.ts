import { frameOf } from '../../kernels/workspace';
import type { BlurShape } from '../../optics/blur-shape';
import { endlessConfusion } from '../../optics/confusion';
import { defocused } from '../../optics/defocus';
import { defocusedByDepth } from '../../optics/defocus-by-depth';
import { defineStep, type Values } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { angle, number } from '../shared/numbers';

const byDepth = ['by', 'lens'] as const;

export const defocus = defineStep({
  id: 'defocus',
  name: 'Defocus',
  stage: 'lens',
  description:
    'Out of focus: every light becomes the shape of the aperture. Evenly, or by depth through a lens.',
  order: { place: 2, why: 'the lens throws its shapes before the shutter smears them' },
  words: [
    'dof',
    'bokeh',
    'blur',
    'focus',
    'aperture',
    'shallow',
    'circle of confusion',
    'depth of field',
    'out of focus',
    'lens blur',
  ],
  version: 1,
  rare: ['sensorWidth', 'metres', 'curvature', 'rotate', 'rim'],
  slots: {
    depth: {
      kind: 'data',
      section: 'take',
      name: 'Depth',
      needed: true,
      description: 'Distance along the view. Used by the lens.',
      onlyIf: byDepth,
    },
    ...keepSlots,
  },
  values: {
    by: {
      type: 'choice',
      section: 'change',
      name: 'Model',
      description: 'The same everywhere, or by the depth of each pixel.',
      options: { even: 'Even', lens: 'Depth and lens' },
      default: 'even',
    },
    radius: number('px', 'change', 'Radius', 'Radius of the circle of confusion.', 6, {
      from: 0,
      to: 256,
      soft: [0, 60],
      onlyIf: ['by', 'even'],
    }),
    focus: number('scene', 'change', 'Focus distance', 'Distance that is sharp, in scene units.', 10, {
      from: 0.01,
      to: 1e6,
      soft: [0.1, 60],
      onlyIf: byDepth,
    }),
    fNumber: number(
      'ratio',
      'change',
      'f-number',
      'Focal length over the diameter of the aperture. Small numbers blur more.',
      2.8,
      {
        from: 0.5,
        to: 64,
        soft: [0.7, 22],
        onlyIf: byDepth,
      },
    ),
    focalLength: number('ratio', 'change', 'Focal length', 'In millimetres.', 50, {
      from: 4,
      to: 1200,
      soft: [14, 200],
      onlyIf: byDepth,
    }),
    sensorWidth: number('ratio', 'change', 'Sensor width', 'In millimetres.', 36, {
      from: 1,
      to: 200,
      soft: [6, 70],
      onlyIf: byDepth,
    }),
    metres: number('ratio', 'change', 'Scene unit', 'Metres in a unit of the scene.', 1, {
      from: 0.0001,
      to: 1000,
      soft: [0.01, 1],
      onlyIf: byDepth,
    }),
    most: number('px', 'change', 'Largest radius', 'No blur is wider.', 40, {
      from: 1,
      to: 256,
      soft: [4, 80],
      onlyIf: byDepth,
    }),
    blades: number('ratio', 'change', 'Blades', 'Of the diaphragm.', 0, {
      from: 0,
      to: 16,
      soft: [0, 10],
      whole: true,
      zeroLabel: 'disc',
    }),
    curvature: number('ratio', 'change', 'Curvature', 'Of the blades: 0 straight, 1 a circle.', 0.3, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
    rotate: angle('change', 'Rotate', 'The diaphragm, counter-clockwise.', 0),
    rim: number('ratio', 'change', 'Rim', 'How much brighter the edge of the shape is.', 0, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
    ...keep,
  },
  beginsWith: { slot: 'depth', pass: 'depth', values: { by: 'lens' } },
  // Sharp where half of the picture is nearer.
  start: ({ values }): Values =>
    values && values.middle > 0 ? { focus: Number(values.middle.toPrecision(3)) } : {},
  summaryValue: 'radius',
  neutral: (v) => v.by === 'even' && v.radius < 0.5,
  // Shapes of straight blades reach a little further than their radius.
  // By depth, what a near thing uncovers is blurred itself.
  reach: (v) => (v.by === 'even' ? 1.6 * v.radius + 2 : 3.2 * v.most + 10),
  run(workspace, picture, { depth, mask }, v) {
    const shape: BlurShape = {
      blades: v.blades < 3 ? 0 : v.blades,
      rotate: v.rotate,
      curvature: v.curvature,
      rim: v.rim,
    };
    if (v.by === 'even')
      return maskedBy(workspace, picture, defocused(workspace, picture, shape, v.radius), mask, v.invert);
    if (!depth) return maskedBy(workspace, picture, picture, mask, v.invert);
    const focus = v.focus * v.metres * 1000;
    // On the sensor, in millimetres; half of it is the radius.
    // A lens focuses no nearer than its focal length.
    const onSensor = endlessConfusion(Math.max(focus, v.focalLength + 1e-3), v.focalLength, v.fNumber);
    const scale = (onSensor / 2 / v.sensorWidth) * frameOf(workspace, picture).width;
    const soft = defocusedByDepth(workspace, picture, depth, shape, { focus: v.focus, scale, most: v.most });
    return maskedBy(workspace, picture, soft, mask, v.invert);
  },
});
