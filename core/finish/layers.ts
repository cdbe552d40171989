import type { Finish } from './finish';
import type { Layer, StackHead } from './heads';

/** Layers of stacks, and which are shown. */

export const layersOf = (doc: Finish): Layer[] =>
  doc.strands.flatMap(({ head }) => (head.type === 'stack' ? head.layers : []));

export const findLayer = (doc: Finish, layerId: string): Layer | undefined =>
  layersOf(doc).find((l) => l.id === layerId);

/** The layers that are seen, the lowest first. A stack that shows nothing still has the size of its first layer. */
export function shownLayers({ layers }: StackHead): Layer[] {
  const alone = layers.some((l) => l.solo);
  const shown = layers.filter((l) => (alone ? l.solo : l.show) && l.opacity > 0);
  return shown.length > 0 ? shown : [{ ...layers[0], opacity: 0 }];
}
