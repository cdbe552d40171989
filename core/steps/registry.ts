import type { StepSpec } from './define';
import { backing } from './finish/backing';
import { bloom } from './light/bloom';
import { join } from './prepare/join';
import { opacity } from './prepare/opacity';
import { pickChannels } from './prepare/pick-channels';
import { premultiply } from './prepare/premultiply';
import { transform } from './prepare/transform';
import { unpremultiply } from './prepare/unpremultiply';

/** Every step there is: adding one means adding its file and a line here. */
export const steps: readonly StepSpec[] = [
  join,
  opacity,
  transform,
  pickChannels,
  premultiply,
  unpremultiply,
  bloom,
  backing,
];

const byId = new Map(steps.map((s) => [s.id, s]));

/** The declaration of step `id`; undefined where this version of Zafiro has no such step. */
export const stepSpec = (id: string): StepSpec | undefined => byId.get(id);
