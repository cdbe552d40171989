import { colourKey } from '../../kernels/key';
import { combine, complement } from '../../kernels/plane';
import type { Workspace } from '../../kernels/workspace';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import type { ValueSpec, Values } from '../shared/define';
import { number } from '../shared/numbers';
import type { StartFacts } from '../shared/start-facts';

/** Ink lines that a step on drawings leaves as they are: light on them would turn them pale. */
export const spareInkValues = {
  spareInk: {
    type: 'choice',
    section: 'keep',
    name: 'Spare ink',
    description: 'Leaves the lines of a drawing as they are: all dark ones, or those of a colour.',
    words: ['lines', 'outline', 'line art', 'contour', 'protect'],
    options: { none: 'Nothing', dark: 'Dark lines', colour: 'A colour' },
    default: 'none',
  },
  inkColour: {
    type: 'colour',
    section: 'keep',
    name: 'Ink',
    description: 'The colour of the lines.',
    default: [0.02, 0.02, 0.03],
    onlyIf: ['spareInk', 'colour'],
  },
  inkNear: number(
    'ratio',
    'keep',
    'Ink tolerance',
    'Distance in OKLab up to which a colour counts as ink; it fades over half as much beyond.',
    0.3,
    { from: 0, to: 2, soft: [0, 0.6], onlyIf: ['spareInk', 'dark', 'colour'] },
  ),
} as const satisfies Record<string, ValueSpec>;

type SpareInk = { spareInk: 'none' | 'dark' | 'colour'; inkColour: Rgb; inkNear: number };

/** The part of a matte that is not ink. The matte itself where nothing is spared. */
export function withoutInk(workspace: Workspace, picture: Picture, matte: Picture, v: SpareInk): Picture {
  if (v.spareInk === 'none') return matte;
  const samples = [v.spareInk === 'dark' ? ([0, 0, 0] as const) : v.inkColour];
  const ink = colourKey(
    workspace,
    picture,
    { samples, near: v.inkNear, soft: v.inkNear / 2, lightness: 1 },
    true,
  );
  return combine(workspace, matte, complement(workspace, ink), 'multiply');
}

/** Of a picture that is drawn in flat colours at least so many pixels are as the one beside them. A render has hardly any. */
const flatOfDrawings = 0.3;

/** Ink is spared from the start where there is some. */
export const spareInkStart = ({ flat }: StartFacts): Values =>
  flat !== undefined && flat > flatOfDrawings ? { spareInk: 'dark' } : {};
