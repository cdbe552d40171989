import type { NumberSpec, SlotSpec } from '../define';

/** Slots and values of the band Take, shared by the light steps. */
export const takeSlots = {
  light: {
    kind: 'picture',
    band: 'take',
    name: 'Light',
    says: 'The strand whose light is taken; the strand itself if none is chosen.',
  },
  within: {
    kind: 'matte',
    band: 'take',
    name: 'Only from',
    says: 'The matte inside which light is taken: which lamp shines, and not the next.',
  },
} as const satisfies Record<string, SlotSpec>;

export const take = {
  threshold: {
    type: 'number',
    band: 'take',
    name: 'Threshold',
    says: 'Luminance above which light is taken.',
    unit: 'light',
    default: 1,
    from: 0,
    to: 65504,
    soft: [0, 16],
  },
  knee: {
    type: 'number',
    band: 'take',
    name: 'Knee',
    says: 'How softly the threshold begins, in light to each side of it.',
    unit: 'light',
    default: 0.5,
    from: 0,
    to: 65504,
    soft: [0, 4],
  },
  limit: {
    type: 'number',
    band: 'take',
    name: 'Limit',
    says: 'Holds stray bright pixels to this luminance.',
    unit: 'light',
    default: 0,
    from: 0,
    to: 65504,
    soft: [0, 64],
    at0: 'none',
  },
} as const satisfies Record<string, NumberSpec>;
