import { radially } from '../../kernels/lens';
import { frameOf } from '../../kernels/workspace';
import { distortedBy, fillScale, undistorting } from '../../optics/distortion';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const coefficient = (name: string, description: string, initial: number) =>
  number('ratio', 'change', name, description, initial, { from: -2, to: 2, soft: [-0.4, 0.4] });

export const distortion = defineStep({
  id: 'distortion',
  name: 'Distortion',
  stage: 'lens',
  description: 'Bends straight lines as a lens does, or straightens them again: undistort, work, distort.',
  order: { place: 7, why: 'what was made on a straight picture is bent with it' },
  words: ['lens', 'barrel', 'pincushion', 'undistort', 'straighten', 'fisheye', 'bend', 'curve'],
  version: 2,
  slots: keepSlots,
  values: {
    direction: {
      type: 'choice',
      section: 'change',
      name: 'Direction',
      description: 'Both with the same numbers undo each other.',
      options: { distort: 'Distort', undistort: 'Undistort' },
      default: 'distort',
    },
    k1: coefficient('k1', 'Times r², with r 1 at the corners. Below 0 is a barrel, above a cushion.', -0.05),
    k2: coefficient('k2', 'Times r⁴.', 0),
    k3: coefficient('k3', 'Times r⁶.', 0),
    fill: {
      type: 'toggle',
      section: 'change',
      name: 'Fill the frame',
      description:
        'Enlarges the picture until no corner is empty. Distort and undistort undo each other only without it.',
      words: ['scale', 'crop', 'black corners', 'zoom', 'edges'],
      default: false,
    },
    ...keep,
  },
  summaryValue: 'k1',
  neutral: (v) => v.k1 === 0 && v.k2 === 0 && v.k3 === 0,
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, picture, { mask }, v) {
    const { width, height } = frameOf(workspace, picture);
    const half = Math.sqrt(width * width + height * height) / 2;
    // A pixel of the distorted picture is read where it came from.
    const factor = v.direction === 'distort' ? undistorting(v) : (r: number) => distortedBy(v, r);
    const zoom = v.fill ? fillScale(factor, Math.min(width, height) / 2 / half) : 1;
    const out = radially(workspace, picture, (r) => factor(r / half / zoom) / zoom);
    return maskedBy(workspace, picture, out, mask, v.invert);
  },
});
