import { type LayOptions, layLight, type TakeOptions, takeLight } from '../../kernels/point';
import type { Workspace } from '../../kernels/workspace';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import type { SlotSpec, ValueSpec } from './define';
import { number } from './numbers';

/** The slot of the band Keep and the values of Keep and Lay, shared by the light steps. */
export const keepSlots = {
  mask: {
    kind: 'matte',
    section: 'keep',
    name: 'Mask',
    description: 'Limits where the step acts. Without a mask it acts everywhere.',
    invertedBy: 'invert',
  },
} as const satisfies Record<string, SlotSpec>;

export const keep = {
  invert: {
    type: 'toggle',
    section: 'keep',
    name: 'Invert mask',
    description: 'Acts outside the mask instead of inside.',
    default: false,
  },
} as const satisfies Record<string, ValueSpec>;

export const lay = {
  mode: {
    type: 'choice',
    section: 'lay',
    name: 'Blend mode',
    description: 'How the light is combined with the picture.',
    options: { add: 'Add', screen: 'Screen', lighten: 'Lighten', over: 'Over', under: 'Under' },
    default: 'add',
  },
  amount: number('ratio', 'lay', 'Amount', 'Strength of the added light.', 0.5, {
    from: 0,
    to: 1000,
    soft: [0, 2],
  }),
  alphaGrows: {
    type: 'toggle',
    section: 'lay',
    name: 'Light raises alpha',
    description: 'Light over a transparent background raises its alpha, up to 1.',
    default: true,
  },
  show: {
    type: 'choice',
    section: 'lay',
    name: 'Show',
    description: 'The result, the added light over black, or the taken light before it is spread.',
    options: { result: 'Result', light: 'Added light alone', taken: 'Taken light alone' },
    default: 'result',
  },
} as const satisfies Record<string, ValueSpec>;

type Slots = { light?: Picture; lightMask?: Picture; mask?: Picture };
type Values = LayValues & Omit<TakeOptions, 'tint' | 'lightMask'>;
type LayValues = Omit<LayOptions, 'show' | 'mask'> & { show: 'result' | 'light' | 'taken' };

/** The frame of every light step: light is taken, `spread` carries it, and it is laid back. */
export function lightStep(
  workspace: Workspace,
  picture: Picture,
  slots: Slots,
  v: Values,
  tint: Rgb,
  spread: (taken: Picture) => Picture,
): Picture {
  const taken = takeLight(workspace, slots.light ?? picture, { ...v, tint, lightMask: slots.lightMask });
  const { show } = v;
  const light = show === 'taken' ? taken : spread(taken);
  const amount = show === 'taken' ? 1 : v.amount;
  // What was taken is shown whole, wherever its light may land.
  const mask = show === 'taken' ? undefined : slots.mask;
  return layLight(workspace, picture, light, {
    ...v,
    amount,
    mask,
    show: show === 'result' ? 'result' : 'light',
  });
}

/** With these values a light step changes nothing. */
export const addsNothing = (v: { amount: number; show: string }) => v.amount === 0 && v.show === 'result';
