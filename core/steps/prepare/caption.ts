import { cover, type Outline } from '../../kernels/cover';
import { colourWhere } from '../../kernels/plane';
import { over } from '../../kernels/point';
import { frameOf } from '../../kernels/workspace';
import { edgesOf, joined } from '../../math/path';
import { letters, typefaces } from '../../type/letters';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const place = (name: string, description: string) =>
  number('px', 'place', name, description, 0, { from: -32768, to: 32768, soft: [-500, 500] });
const ems = (name: string, description: string, initial: number, soft: readonly [number, number]) =>
  number('ratio', 'spread', name, description, initial, { from: -1, to: 10, soft });

export const caption = defineStep({
  id: 'caption',
  name: 'Caption',
  stage: 'prepare',
  anywhere: true,
  description: 'Draws text over the picture.',
  words: [
    'title',
    'text',
    'letters',
    'words',
    'slate',
    'name',
    'write',
    'font',
    'subtitle',
    'frame number',
    'burn in',
  ],
  version: 1,
  rare: ['spacing', 'leading'],
  slots: keepSlots,
  handles: [{ type: 'point', x: 'moveX', y: 'moveY', name: 'Caption' }],
  values: {
    text: {
      type: 'text',
      section: 'place',
      name: 'Text',
      description: 'Enter begins a new line.',
      default: 'Caption',
      longest: 400,
    },
    moveX: place('Move x', 'From the middle of the picture to the right.'),
    moveY: place('Move y', 'From the middle of the picture upwards.'),
    font: {
      type: 'choice',
      section: 'spread',
      name: 'Font',
      description: 'Both fonts ship with Zafiro.',
      options: typefaces,
      default: 'sans',
    },
    size: number('px', 'spread', 'Size', 'Height of a line of letters, with ascenders and descenders.', 64, {
      from: 1,
      to: 4096,
      soft: [8, 256],
    }),
    spacing: ems('Letter spacing', 'Added between letters, relative to the size.', 0, [-0.1, 0.5]),
    leading: ems('Line height', 'Distance between lines, relative to the size.', 1.25, [0.8, 2]),
    align: {
      type: 'choice',
      section: 'spread',
      name: 'Alignment',
      description: 'How the lines are aligned at the position.',
      options: { left: 'Left', middle: 'Centre', right: 'Right' },
      default: 'middle',
    },
    colour: {
      type: 'colour',
      section: 'lay',
      name: 'Colour',
      description: 'In linear light.',
      default: [0.9, 0.9, 0.9],
    },
    ...keep,
    amount: number('ratio', 'lay', 'Opacity', 'Opacity of the text.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'text',
  neutral: (v) => v.amount === 0 || v.text.trim() === '',
  reach: () => 0,
  run(workspace, strand, { mask }, v) {
    const { width, height } = strand;
    const frame = frameOf(workspace, strand);
    const paths = letters(v.text, v);
    const [dx, dy] = [frame.width / 2 + v.moveX - frame.x, frame.height / 2 - v.moveY - frame.y];
    const edges = paths.map((path) => edgesOf(path.map((p) => ({ ...p, x: p.x + dx, y: p.y + dy }))));
    // One outline of all: what winds back inside a letter is its hole.
    const outline: Outline = { edges: joined(edges), operation: 'add', opacity: v.amount };
    const written = colourWhere(workspace, cover(workspace, width, height, [outline]), v.colour);
    return maskedBy(workspace, strand, over(workspace, written, strand), mask, v.invert);
  },
});
