import { joinModes, join as joinPictures, mix } from '../../kernels/join';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { number } from '../shared/numbers';

export const join = defineStep({
  id: 'join',
  name: 'Join',
  stage: 'prepare',
  anywhere: true,
  description: 'Combines another strand with this one.',
  sourceQuestion: 'which picture?',
  words: [
    'merge',
    'composite',
    'blend',
    'layer',
    'combine',
    'mix',
    'over',
    'add',
    'multiply',
    'screen',
    'overlay',
    'paste',
    'dissolve',
    'crossfade',
    'put together',
  ],
  version: 1,
  slots: {
    picture: {
      kind: 'picture',
      section: 'take',
      name: 'Picture',
      needed: true,
      description: 'The strand to combine with. Without one the step changes nothing.',
    },
    ...keepSlots,
  },
  values: {
    ...keep,
    mode: {
      type: 'choice',
      section: 'lay',
      name: 'Blend mode',
      description: 'A Porter-Duff operator, plus, or a blend mode of W3C Compositing.',
      options: joinModes,
      default: 'over',
    },
    amount: number(
      'ratio',
      'lay',
      'Amount',
      '0 shows this strand alone, 1 the combination. Typed beyond 1 it exaggerates their difference.',
      1,
      { from: 0, to: 16, soft: [0, 1] },
    ),
    swap: {
      type: 'toggle',
      section: 'lay',
      name: 'Swap',
      description: 'Exchanges source and backdrop.',
      default: false,
    },
  },
  summaryValue: 'mode',
  neutral: (v) => v.amount === 0,
  reach: () => 0,
  run(workspace, strand, { picture, mask }, v) {
    if (!picture) return mix(workspace, strand, strand, { invert: false, amount: 0 });
    const [backdrop, source] = v.swap ? [picture, strand] : [strand, picture];
    const joined = joinPictures(workspace, backdrop, source, v.mode);
    return v.amount === 1 && !mask
      ? joined
      : mix(workspace, strand, joined, { mask, invert: v.invert, amount: v.amount });
  },
});
