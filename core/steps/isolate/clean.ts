import { clean as without } from '../../kernels/plane';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const size = (name: string, description: string) =>
  number('px', 'spread', name, description, 4, {
    // The side of a square: an area in a draft scales as its square does.
    from: 0,
    to: 2048,
    soft: [0, 40],
    zeroLabel: 'off',
  });

export const clean = defineStep({
  id: 'clean',
  name: 'Clean',
  stage: 'isolate',
  description: 'Removes specks from a matte and fills small holes.',
  words: ['despeckle', 'specks', 'holes', 'dust', 'noise', 'denoise', 'islands', 'fill'],
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    specks: size('Specks', 'Removes islands smaller than a square of this side.'),
    holes: size('Holes', 'Fills holes smaller than a square of this side.'),
    ...keep,
  },
  summaryValue: 'specks',
  neutral: (v) => v.specks === 0 && v.holes === 0,
  // An island may be as long as the picture.
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, matte, slots, v) {
    const bare = v.specks > 0 ? without(workspace, matte, v.specks * v.specks, false) : matte;
    const full = v.holes > 0 ? without(workspace, bare, v.holes * v.holes, true) : bare;
    return maskedBy(workspace, matte, full, slots.mask, v.invert);
  },
});
