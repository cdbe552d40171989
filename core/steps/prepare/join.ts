import { joinModes, join as joinPictures, mix } from '../../kernels/join';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { number } from '../numbers';

export const join = defineStep({
  id: 'join',
  name: 'Join',
  stage: 'prepare',
  anywhere: true,
  description: 'Brings another strand onto this one.',
  sourceQuestion: 'what comes in?',
  version: 1,
  slots: {
    picture: {
      kind: 'picture',
      section: 'take',
      name: 'Picture',
      description: 'The strand that comes in; without one this step changes nothing.',
    },
    ...keepSlots,
  },
  values: {
    ...keep,
    mode: {
      type: 'choice',
      section: 'lay',
      name: 'Mode',
      description: 'An operator of Porter and Duff, plus, or a blend mode of the W3C.',
      options: joinModes,
      default: 'over',
    },
    amount: number('ratio', 'lay', 'Amount', 'From this strand alone at 0 to the two joined at 1.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
    swap: {
      type: 'toggle',
      section: 'lay',
      name: 'Swap',
      description: 'This strand goes onto the one that comes in.',
      default: false,
    },
  },
  summaryValue: 'mode',
  neutral: (v) => v.amount === 0,
  reach: () => 0,
  run(workspace, strand, { picture, where }, v) {
    if (!picture) return mix(workspace, strand, strand, { invert: false, amount: 0 });
    const [backdrop, source] = v.swap ? [picture, strand] : [strand, picture];
    const joined = joinPictures(workspace, backdrop, source, v.mode);
    return v.amount === 1 && !where
      ? joined
      : mix(workspace, strand, joined, { where, invert: v.invert, amount: v.amount });
  },
});
