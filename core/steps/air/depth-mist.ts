import { layMist } from '../../kernels/air';
import { copy, fill } from '../../kernels/point';
import { defineStep } from '../define';
import { kept } from '../kept';
import { keep, keepSlots } from '../light/lay';
import { number } from '../numbers';
import { mistStart } from '../start';
import { densitySlots, densityValues, drifting, veilOf } from './density';

export const depthMist = defineStep({
  id: 'depth-mist',
  name: 'Depth mist',
  stage: 'air',
  description: 'Mist between things and the lens, denser with the distance: it gives depth and size.',
  takes: 'how far is it?',
  version: 1,
  slots: {
    depth: {
      kind: 'data',
      band: 'take',
      name: 'Depth',
      description: 'The depth pass, in any unit; or a mist pass from 0 to 1. Without one nothing happens.',
    },
    ...densitySlots,
    colour: {
      kind: 'picture',
      band: 'spread',
      name: 'Colour of',
      description: 'A strand whose colours the mist has: a sky, or a blurred copy of the picture.',
    },
    coverage: {
      kind: 'matte',
      band: 'keep',
      name: 'Edges of',
      description:
        'Exact coverage of what is in front: objects of an id pass, or an alpha. Without it the colours nearby tell.',
    },
    ...keepSlots,
  },
  values: {
    ...densityValues,
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'Times its density.', 1, { from: 0, to: 4, soft: [0, 1] }),
    show: {
      type: 'choice',
      band: 'lay',
      name: 'Show',
      description: 'The result, or the mist alone over black.',
      options: { result: 'Result', mist: 'Mist alone' },
      default: 'result',
    },
  },
  telling: 'curve',
  start: ({ values }) => (values ? mistStart(values) : {}),
  neutral: (v) => v.amount === 0 && v.show === 'result',
  moves: (v) => drifting(v),
  // Edges are looked at within two pixels, and those within one more.
  reach: () => 4,
  run(workspace, picture, { depth, positions, colour, coverage, where }, v, _around, frame = 0) {
    if (!depth) return copy(workspace, picture);
    const veil = veilOf(workspace, depth, { positions, colour }, v, v.amount, frame);
    if (v.show === 'mist') {
      const black = fill(workspace, picture.width, picture.height, [0, 0, 0, 1]);
      return layMist(workspace, black, veil, { turned: v.turned });
    }
    return kept(
      workspace,
      picture,
      layMist(workspace, picture, veil, { coverage, turned: v.turned }),
      where,
      v.invert,
    );
  },
});
