import { type ChannelSource, channelSources, pickChannels as picked } from '../../kernels/join';
import { type ChoiceSpec, defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';

const channel = (name: string, otherwise: ChannelSource) =>
  ({
    type: 'choice',
    section: 'take',
    name,
    description: `Channel for ${name.toLowerCase()}.`,
    options: channelSources,
    default: otherwise,
  }) as const satisfies ChoiceSpec<ChannelSource>;

export const pickChannels = defineStep({
  id: 'pick-channels',
  name: 'Pick channels',
  stage: 'prepare',
  anywhere: true,
  description: 'Builds a picture from channels of this strand and another.',
  sourceQuestion: 'which channels?',
  words: ['swizzle', 'shuffle', 'channel', 'alpha', 'copy', 'swap', 'red', 'green', 'blue'],
  version: 1,
  slots: {
    other: {
      kind: 'picture',
      section: 'take',
      name: 'Second picture',
      description: 'A strand whose channels can be used as well. Without one it is this strand.',
    },
    ...keepSlots,
  },
  values: {
    red: channel('Red', 'red'),
    green: channel('Green', 'green'),
    blue: channel('Blue', 'blue'),
    alpha: channel('Alpha', 'alpha'),
    ...keep,
  },
  neutral: (v) => v.red === 'red' && v.green === 'green' && v.blue === 'blue' && v.alpha === 'alpha',
  reach: () => 0,
  run(workspace, strand, { other, mask }, v) {
    const chosen = picked(workspace, strand, other, [v.red, v.green, v.blue, v.alpha]);
    return maskedBy(workspace, strand, chosen, mask, v.invert);
  },
});
