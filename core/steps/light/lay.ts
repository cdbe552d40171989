import type { SlotSpec, ValueSpec } from '../define';

/** The slot of the band Keep and the values of Keep and Lay, shared by the light steps. */
export const keepSlots = {
  where: {
    kind: 'matte',
    band: 'keep',
    name: 'Where',
    says: 'The matte inside which it acts; everywhere if none is chosen.',
  },
} as const satisfies Record<string, SlotSpec>;

export const keep = {
  invert: {
    type: 'toggle',
    band: 'keep',
    name: 'Invert',
    says: 'Acts outside the matte.',
    default: false,
  },
} as const satisfies Record<string, ValueSpec>;

export const lay = {
  mode: {
    type: 'choice',
    band: 'lay',
    name: 'Mode',
    says: 'How the light goes back onto the picture.',
    options: { add: 'Add', screen: 'Screen', lighten: 'Lighten', over: 'Over', under: 'Under' },
    default: 'add',
  },
  amount: {
    type: 'number',
    band: 'lay',
    name: 'Amount',
    says: 'How much of the light goes back.',
    unit: 'ratio',
    default: 0.5,
    from: 0,
    to: 8,
    soft: [0, 2],
  },
  alphaGrows: {
    type: 'toggle',
    band: 'lay',
    name: 'Alpha grows with light',
    says: 'Light over nothing becomes visible in the alpha too, never past 1.',
    default: true,
  },
  show: {
    type: 'choice',
    band: 'lay',
    name: 'Show',
    says: 'The result, or the added light alone over black.',
    options: { result: 'Result', light: 'Added light alone' },
    default: 'result',
  },
} as const satisfies Record<string, ValueSpec>;
