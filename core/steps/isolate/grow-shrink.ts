import { colourWhere, combine } from '../../kernels/plane';
import { matteOf, plus } from '../../kernels/point';
import { grow, shrinkMatte } from '../../kernels/shape';
import { keptUnder, spreadUnder } from '../../kernels/surface';
import type { Workspace } from '../../kernels/workspace';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const moved = (workspace: Workspace, matte: Picture, by: number) =>
  by > 0 ? grow(workspace, matte, by) : shrinkMatte(workspace, matte, -by);

/** A drawing whose shape is larger or smaller: in one colour, or with the colours it has, which grow with it. */
function drawing(workspace: Workspace, picture: Picture, by: number, fill: Rgb | undefined): Picture {
  const alpha = matteOf(workspace, picture, 'alpha');
  const shape = moved(workspace, alpha, by);
  if (fill) return colourWhere(workspace, shape, fill);
  if (by < 0) return keptUnder(workspace, picture, shape);
  // What the shape gains takes the colours nearby; what was there stays.
  const gained = combine(workspace, shape, alpha, 'less');
  return plus(workspace, picture, spreadUnder(workspace, picture, gained, by / 2 + 1));
}

export const growShrink = defineStep({
  id: 'grow-shrink',
  name: 'Grow / Shrink',
  stage: 'isolate',
  description: 'Moves the edge of a matte or a drawing by an exact distance.',
  words: [
    'dilate',
    'erode',
    'expand',
    'contract',
    'choke',
    'spread',
    'thicker',
    'thinner',
    'offset',
    'bigger',
    'smaller',
    'morphology',
  ],
  version: 2,
  accepts: ['matte', 'picture'],
  slots: keepSlots,
  values: {
    distance: number(
      'px',
      'spread',
      'Distance',
      'Positive grows, negative shrinks. Fractions of a pixel count.',
      4,
      {
        from: -2048,
        to: 2048,
        soft: [-40, 40],
      },
    ),
    colour: {
      type: 'choice',
      section: 'spread',
      name: 'Colours',
      description: 'A drawing keeps its colours, extended outwards, or is filled with one colour.',
      options: { keep: 'Keep colours', fill: 'Fill with one colour' },
      default: 'keep',
    },
    fill: {
      type: 'colour',
      section: 'spread',
      name: 'Fill',
      description: 'Fill colour, in linear light.',
      default: [1, 1, 1],
      onlyIf: ['colour', 'fill'],
    },
    ...keep,
  },
  summaryValue: 'distance',
  neutral: (v) => v.distance === 0 && v.colour === 'keep',
  reach: (v) => 3 * Math.abs(v.distance) + 8,
  run(workspace, strand, slots, v) {
    const done =
      strand.channels === 1
        ? moved(workspace, strand, v.distance)
        : drawing(workspace, strand, v.distance, v.colour === 'fill' ? v.fill : undefined);
    return maskedBy(workspace, strand, done, slots.mask, v.invert);
  },
});
