import { layMist } from '../../kernels/air';
import { copy, fill } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { mistStart } from '../shared/start';
import { densitySlots, densityValues, drifting, mistDensityOf } from './density';

export const depthMist = defineStep({
  id: 'depth-mist',
  name: 'Depth mist',
  stage: 'air',
  description: 'Mist that gets denser with distance. Use it to give depth and scale.',
  sourceQuestion: 'how far?',
  words: [
    'fog',
    'haze',
    'smoke',
    'atmosphere',
    'air',
    'dust',
    'distance',
    'clouds',
    'aerial perspective',
    'depth cue',
  ],
  version: 2,
  slots: {
    depth: {
      kind: 'data',
      section: 'take',
      name: 'Depth',
      needed: true,
      description:
        'The depth pass in any unit, or a mist pass from 0 to 1. Without one the step changes nothing.',
    },
    ...densitySlots,
    colour: {
      kind: 'picture',
      section: 'spread',
      name: 'Colour source',
      description: 'A strand that colours the mist: a sky, or a blurred copy of the picture.',
    },
    coverage: {
      kind: 'matte',
      section: 'keep',
      name: 'Edge coverage',
      description:
        'Coverage of the foreground at edges: objects of an id pass, or an alpha. Without it coverage is estimated from colours.',
    },
    ...keepSlots,
  },
  values: {
    ...densityValues,
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'Multiplies the density.', 1, { from: 0, to: 4, soft: [0, 1] }),
    show: {
      type: 'choice',
      section: 'lay',
      name: 'Show',
      description: 'The result, or the mist over black.',
      options: { result: 'Result', mist: 'Mist alone' },
      default: 'result',
    },
  },
  editors: [{ kind: 'mist', section: 'take', depth: 'depth', holds: ['stops'] }],
  summaryValue: 'curve',
  beginsWith: { slot: 'depth', pass: 'depth' },
  start: ({ values }) => (values ? mistStart(values) : {}),
  neutral: (v) => v.amount === 0 && v.show === 'result',
  dependsOnFrame: (v) => drifting(v),
  // Edges are looked at within two pixels, and those within one more.
  reach: () => 4,
  run(workspace, picture, { depth, positions, colour, coverage, mask }, v, _neighbours, frame = 0) {
    if (!depth) return copy(workspace, picture);
    const mist = mistDensityOf(workspace, depth, { positions, colour }, v, v.amount, frame);
    if (v.show === 'mist') {
      const black = fill(workspace, picture.width, picture.height, [0, 0, 0, 1]);
      return layMist(workspace, black, mist, { turned: v.invertDepth });
    }
    return maskedBy(
      workspace,
      picture,
      layMist(workspace, picture, mist, { coverage, turned: v.invertDepth }),
      mask,
      v.invert,
    );
  },
});
