import type { Picture } from '../picture/picture';
import { type JoinMode, join } from './join';
import { copy, over, weightedSum } from './point';
import { isIdentity, type Transform, transformed } from './transform';
import type { Workspace } from './workspace';

/** How a layer may go onto those below it. */
export const layerModes = [
  'over',
  'atop',
  'plus',
  'multiply',
  'screen',
  'darken',
  'lighten',
  'difference',
  'overlay',
  'hard-light',
  'soft-light',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const satisfies readonly JoinMode[];
export type LayerMode = (typeof layerModes)[number];

export type StackedLayer = { picture: Picture; opacity: number; mode?: LayerMode; transform?: Transform };

/** Composites layers, the lowest first, each with its transform and opacity. The lowest has nothing below it. */
export function stack(workspace: Workspace, layers: readonly StackedLayer[]): Picture {
  let below: Picture | undefined;
  for (const layer of layers) {
    const { opacity, mode = 'over', transform } = layer;
    const there =
      transform && !isIdentity(transform)
        ? transformed(workspace, layer.picture, transform, 'mitchell')
        : layer.picture;
    const faded = opacity === 1 ? there : weightedSum(workspace, there, opacity, there, 0);
    const onto = below;
    if (onto) below = mode === 'over' ? over(workspace, faded, onto) : join(workspace, onto, faded, mode);
    else below = faded === layer.picture ? copy(workspace, faded) : faded;
    for (const p of new Set([onto, there, faded]))
      if (p && p !== below && p !== layer.picture) workspace.drop(p);
  }
  return below!;
}
