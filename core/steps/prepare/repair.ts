import { repaired, repairRadius } from '../../kernels/repair';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

/** No colour lies so low: nothing is repaired for being negative. */
const lowest = -3.4e38;

export const repair = defineStep({
  id: 'repair',
  name: 'Repair',
  stage: 'prepare',
  description:
    'Replaces broken pixels by their neighbours. Use it first, where a render has black, cyan or flashing specks.',
  words: [
    'fix',
    'nan',
    'infinite',
    'negative',
    'black',
    'specks',
    'fireflies',
    'denoise',
    'noise',
    'despeckle',
    'clean',
    'outliers',
    'stray',
    'clamp',
    'broken pixels',
    'dead pixels',
    'hot pixels',
  ],
  version: 1,
  order: { place: 1, why: 'broken pixels spread in every step that blurs' },
  slots: keepSlots,
  values: {
    negatives: {
      type: 'toggle',
      section: 'change',
      name: 'Negative pixels',
      description:
        'Replaces pixels with a colour below the limit. Pixels that are not finite are always replaced.',
      default: true,
    },
    least: number('light', 'change', 'Negative below', 'Colours below it count as broken.', -0.01, {
      from: -65504,
      to: 0,
      soft: [-1, 0],
      onlyIf: ['negatives', 'true'],
    }),
    stray: number(
      'ratio',
      'change',
      'Stray pixels',
      'Replaces pixels brighter than so many times the median around them. Small lamps are stray too: use a mask.',
      0,
      { from: 0, to: 1000, soft: [0, 50], zeroLabel: 'kept' },
    ),
    ...keep,
  },
  summaryValue: 'stray',
  neutral: () => false,
  reach: () => repairRadius + 1,
  run(workspace, picture, { mask }, v) {
    const least = v.negatives ? v.least : lowest;
    return maskedBy(
      workspace,
      picture,
      repaired(workspace, picture, { least, stray: v.stray }),
      mask,
      v.invert,
    );
  },
});
