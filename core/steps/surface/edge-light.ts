import { gaussianPlane, gaussianReach } from '../../kernels/gaussian';
import { asPicture, combine, complement, lightWhere } from '../../kernels/plane';
import { layLight, matteOf } from '../../kernels/point';
import { resample } from '../../kernels/sample';
import { fadeAround } from '../../kernels/surface';
import { frameOf } from '../../kernels/workspace';
import { cosTurns, sinTurns } from '../../math/elementary';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay } from '../shared/lay';
import { angle, number } from '../shared/numbers';
import { spareInkStart, spareInkValues, withoutInk } from './spare-ink';

const place = (name: string, description: string, initial: number) =>
  number('px', 'spread', name, description, initial, {
    from: -65536,
    to: 65536,
    soft: [-1000, 1000],
    onlyIf: ['falloff', 'centre'],
  });

export const edgeLight = defineStep({
  id: 'edge-light',
  name: 'Edge light',
  stage: 'surface',
  description: 'Light along the edge of a figure, on the side it comes from.',
  sourceQuestion: 'which edge?',
  words: ['backlight', 'kicker', 'contour', 'halo', 'outline', 'glow', 'rim light'],
  version: 1,
  rare: ['alphaGrows', 'inkNear'],
  slots: {
    shape: {
      kind: 'matte',
      section: 'take',
      name: 'Figure matte',
      description: 'The matte whose edge is lit. Without one it is the alpha of this strand.',
    },
    ...keepSlots,
  },
  handles: [
    { type: 'arm', name: 'Light direction', angle: 'angle' },
    { type: 'point', name: 'Centre', x: 'centreX', y: 'centreY', onlyIf: ['falloff', 'centre'] },
  ],
  values: {
    side: {
      type: 'choice',
      section: 'take',
      name: 'Side',
      description: 'On the figure, or around it.',
      options: { inside: 'Inside', outside: 'Outside' },
      default: 'inside',
    },
    angle: angle(
      'spread',
      'Light direction',
      'Direction the light comes from, counter-clockwise from the right.',
      130,
    ),
    width: number('px', 'spread', 'Width', 'Width of the lit edge.', 10, {
      from: 0,
      to: 2048,
      soft: [0, 80],
    }),
    soft: number('px', 'spread', 'Softness', 'Standard deviation of the inner edge’s blur.', 4, {
      from: 0,
      to: 1024,
      soft: [0, 60],
    }),
    falloff: {
      type: 'choice',
      section: 'spread',
      name: 'Falloff',
      description: 'Constant, or weaker with the distance from a centre.',
      options: { even: 'None', centre: 'From a centre' },
      default: 'even',
    },
    centreX: place('Centre x', 'From the middle of the picture to the right.', 0),
    centreY: place('Centre y', 'From the middle of the picture upwards.', 0),
    reach: {
      ...number('px', 'spread', 'Reach', 'Distance from the centre at which the light is 0.', 600, {
        from: 1,
        to: 65536,
        soft: [10, 2000],
      }),
      onlyIf: ['falloff', 'centre'],
    },
    colour: {
      type: 'colour',
      section: 'spread',
      name: 'Colour',
      description: 'Colour of the light.',
      default: [1, 0.85, 0.6],
    },
    ...keep,
    ...spareInkValues,
    ...lay,
    amount: { ...lay.amount, default: 0.8, description: 'Strength of the light.' },
    alphaGrows: {
      ...lay.alphaGrows,
      description: 'Light outside the figure raises its alpha, up to 1.',
      onlyIf: ['side', 'outside'],
    },
    show: {
      type: 'choice',
      section: 'lay',
      name: 'Show',
      description: 'The result, or the added light over black.',
      options: { result: 'Result', light: 'Added light alone' },
      default: 'result',
    },
  },
  start: spareInkStart,
  summaryValue: 'width',
  neutral: (v) => addsNothing(v) || (v.width === 0 && v.soft === 0 && v.show === 'result'),
  reach: (v) => v.width + gaussianReach(v.soft) + 1,
  run(workspace, picture, { shape, mask }, v) {
    const { width, height } = picture;
    const figure = shape ?? matteOf(workspace, picture, 'alpha');
    const [dx, dy] = [cosTurns(v.angle / 360) * v.width, -sinTurns(v.angle / 360) * v.width];
    /** The figure moved away from the light (1) or towards it (−1), its edge softened. */
    const moved = (sign: 1 | -1) => {
      const there = asPicture(workspace, figure, (p) =>
        resample(
          workspace,
          p,
          width,
          height,
          { a: 1, b: 0, c: sign * dx, d: 0, e: 1, f: sign * dy },
          'bilinear',
        ),
      );
      return v.soft > 0 ? gaussianPlane(workspace, there, v.soft) : there;
    };
    // What the figure leaves free where it moves out of the light is what the light meets; outside, it shines past the edge.
    const edge =
      v.side === 'inside'
        ? combine(workspace, figure, complement(workspace, moved(1)), 'multiply')
        : combine(workspace, complement(workspace, figure), moved(-1), 'multiply');
    const strength =
      v.falloff === 'even'
        ? edge
        : combine(workspace, edge, fadeAround(workspace, picture, ...centre(), v.reach), 'multiply');
    const lit = withoutInk(workspace, picture, strength, v);
    return layLight(workspace, picture, lightWhere(workspace, lit, v.colour), {
      ...v,
      mask,
      // On the figure its coverage stays what it is.
      alphaGrows: v.side === 'outside' && v.alphaGrows,
    });

    function centre(): [number, number] {
      const frame = frameOf(workspace, picture);
      return [(frame.width - 1) / 2 + v.centreX - frame.x, (frame.height - 1) / 2 - v.centreY - frame.y];
    }
  },
});
