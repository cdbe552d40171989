import { transformValues } from '../steps/prepare/transform';
import type { ColourSpec, NumberSpec, PathSpec } from '../steps/shared/define';
import { angle, number } from '../steps/shared/numbers';

/** Declarations of the values that heads have: those of steps are in the steps' own files. */

const covers = (name: string, description: string) =>
  number('ratio', 'lay', name, description, 1, { from: 0, to: 1, soft: [0, 1] });
const colour = (name: string, description: string, initial: number): ColourSpec => ({
  type: 'colour',
  section: 'lay',
  name,
  description,
  default: [initial, initial, initial],
});

export const layerValues = { opacity: covers('Opacity', 'How much of it counts.'), ...transformValues };

export const mixedValues = {
  gain: number('ratio', 'lay', 'Gain', 'Multiplies the pass.', 1, { from: 0, to: 1000, soft: [0, 2] }),
  tint: colour('Tint', 'Multiplies the pass channel by channel.', 1),
};

const path: PathSpec = {
  type: 'path',
  section: 'place',
  name: 'Path',
  description: 'Its outline, drawn on the picture.',
  default: [],
};
const move = (name: string, description: string): NumberSpec =>
  number('px', 'place', name, description, 0, { from: -32768, to: 32768, soft: [-400, 400] });

/** How a shape moves, rotates and scales about its pivot. */
export const shapeTransformValues = {
  moveX: move('Move x', 'To the right.'),
  moveY: move('Move y', 'Upwards.'),
  rotate: angle('place', 'Rotate', 'Counter-clockwise.', 0),
  scale: number('ratio', 'place', 'Scale', 'Its size.', 1, { from: 0.001, to: 1000, soft: [0.1, 3] }),
};
export const shapeValues = {
  opacity: covers('Opacity', 'How much of it counts.'),
  feather: number('px', 'lay', 'Softness', 'Of the edge, to both sides.', 0, {
    from: 0,
    to: 4096,
    soft: [0, 100],
  }),
  path,
  ...shapeTransformValues,
};

export const colourValues = {
  colour: colour('Colour', 'In linear light.', 0.18),
  alpha: covers('Alpha', 'How much it covers.'),
};
export const gradientValues = {
  from: colour('From', 'In linear light.', 0.18),
  fromAlpha: covers('Alpha at the beginning', 'How much it covers.'),
  to: colour('To', 'In linear light.', 0.18),
  toAlpha: covers('Alpha at the end', 'How much it covers.'),
  angle: angle('lay', 'Angle', 'Counter-clockwise from the right.', 90),
};
