import type { JoinMode } from '../kernels/join';
import { joinModes } from '../kernels/join';
import { atRest } from './animated';
import { assignPart, dropUnused, type Edit, edit, freeId, freeName, plainOf } from './edit';
import { type Finish, headOf, layerHead, leadingPass } from './finish';
import type { Layer } from './heads';
import { findLayer, layersOf } from './layers';

/** Edits of the layers at the head of a strand; a layer is named by its index, the lowest is 0. */

const stackOf = (doc: Finish, strandId: string) => headOf(doc, strandId, 'stack');
const nameOf = (doc: Finish, strandId: string, index: number) => {
  const layer = stackOf(doc, strandId)?.layers[index];
  return layer ? layerName(doc, layer) : 'a layer';
};

/** The id by which a layer is followed: its own, or that of the layer it follows itself. */
function leadingId(draft: Finish, layer: Layer): string {
  if (layer.follows !== undefined) return layer.follows;
  layer.id ??= freeId(draft, 'layer');
  return layer.id;
}

/** A layer once more: in a place of its own, or in that of the one it follows from then on. */
export function copiedLayer(draft: Finish, layer: Layer, following: boolean): Layer {
  const { id: _, ...rest } = plainOf(layer);
  const copy = structuredClone(rest);
  if (!following) return copy;
  dropTransform(copy);
  return { ...copy, follows: leadingId(draft, layer) };
}

/** Takes a layer's own transform away, with how it changes over time. */
function dropTransform(layer: Layer) {
  delete layer.transform;
  const left = Object.entries(layer.animation ?? {}).filter(([key]) => !Object.hasOwn(atRest, key));
  if (left.length > 0) layer.animation = Object.fromEntries(left);
  else delete layer.animation;
}

/** Gives a layer the transform that another has, with how it changes over time. */
function takeTransform(layer: Layer, other: Layer) {
  const { transform, animation } = structuredClone(plainOf(other));
  dropTransform(layer);
  if (transform) layer.transform = transform;
  const moved = Object.entries(animation ?? {}).filter(([key]) => Object.hasOwn(atRest, key));
  if (moved.length > 0) layer.animation = { ...layer.animation, ...Object.fromEntries(moved) };
}

const layersEdit = (
  strandId: string,
  label: string,
  change: (layers: Layer[], draft: Finish) => void,
): Edit =>
  edit(label, (draft) => {
    const head = stackOf(draft, strandId);
    if (head) change(head.layers, draft);
  });

/** Layers that followed one that goes stay where they are. */
export function releaseLayers(doc: Finish, gone: readonly Layer[]) {
  for (const other of gone)
    if (other.id !== undefined)
      for (const layer of layersOf(doc))
        if (layer.follows === other.id) {
          delete layer.follows;
          takeTransform(layer, other);
        }
}

type Looks = Pick<Layer, 'show' | 'solo' | 'mode'>;
const labelOf = ({ show, solo, mode }: Partial<Looks>): string => {
  if (show !== undefined) return show ? 'show' : 'hide';
  if (mode) return `lay as ${joinModes[mode as JoinMode].toLowerCase()}`;
  return solo ? 'show alone' : 'show with the others';
};

/** Shown or hidden, shown alone, how it goes onto those below. */
export const setLayer = (doc: Finish, strandId: string, index: number, part: Partial<Looks>): Edit =>
  layersEdit(strandId, `${labelOf(part)} ${nameOf(doc, strandId, index)}`, (layers) => {
    assignPart(layers[index], part);
    if (layers[index].mode === 'over') delete layers[index].mode;
  });

/** Makes a layer follow the transform of another, or use its own again if none is named. */
export const followLayer = (
  doc: Finish,
  strandId: string,
  index: number,
  other: { strand: string; index: number } | undefined,
): Edit => {
  const name = nameOf(doc, strandId, index);
  const label = other ? `let ${name} follow ${nameOf(doc, other.strand, other.index)}` : `free ${name}`;
  return layersEdit(strandId, label, (layers, draft) => {
    const layer = layers[index];
    if (!other) {
      const leader = layer.follows === undefined ? undefined : findLayer(draft, layer.follows);
      delete layer.follows;
      if (leader) takeTransform(layer, leader);
      return;
    }
    const original = stackOf(draft, other.strand)!.layers[other.index];
    // Who followed this one follows the same from now on.
    const leads = leadingId(draft, original);
    if (leads === layer.id) return;
    if (layer.id !== undefined)
      for (const l of layersOf(draft)) if (l.follows === layer.id) l.follows = leads;
    layer.follows = leads;
    dropTransform(layer);
  });
};

/** Moves a layer by `by` places, upwards above 0. */
export const moveLayer = (doc: Finish, strandId: string, index: number, by: number): Edit =>
  layersEdit(strandId, `move ${nameOf(doc, strandId, index)} ${by > 0 ? 'up' : 'down'}`, (layers) => {
    const to = Math.max(0, Math.min(layers.length - 1, index + by));
    layers.splice(to, 0, ...layers.splice(index, 1));
  });

/** Another layer on top of the others. */
export const addLayer = (strandId: string, media: string, pass: string): Edit =>
  layersEdit(strandId, `add the layer ${media}`, (layers) => {
    layers.push({ media, pass, show: true, opacity: 1 });
  });

/** The end of another strand as a layer on top of the others. Put back, it is the pass that the strand begins at. */
export const addStrandLayer = (doc: Finish, strandId: string, source: string): Edit => {
  const name = doc.strands.find((s) => s.id === source)?.name ?? source;
  const pass = leadingPass({ ...doc, main: source });
  return layersEdit(strandId, `put ${name} into the stack`, (layers) => {
    const { media, pass: of } = pass ?? layers[0];
    layers.push({ media, pass: of, show: true, opacity: 1, from: { strand: source, after: 'end' } });
  });
};

/** What a layer is called: the strand that it was pulled out to or takes from, else its media. */
export const layerName = (doc: Finish, { from, media }: Pick<Layer, 'from' | 'media'>): string =>
  doc.strands.find((s) => s.id === from?.strand)?.name ?? media;

/** Duplicates a layer, right above it. A following copy uses the transform of the first. */
export const duplicateLayer = (doc: Finish, strandId: string, index: number, following: boolean): Edit =>
  layersEdit(
    strandId,
    `${following ? 'make a following copy of' : 'duplicate'} ${nameOf(doc, strandId, index)}`,
    (layers, draft) => {
      layers.splice(index + 1, 0, copiedLayer(draft, layers[index], following));
    },
  );

export const removeLayer = (doc: Finish, strandId: string, index: number): Edit =>
  layersEdit(strandId, `remove the layer ${nameOf(doc, strandId, index)}`, (layers, draft) => {
    const [gone] = layers.splice(index, 1);
    releaseLayers(draft, [gone]);
    dropUnused(draft);
  });

/** A layer becomes a strand of its own, for steps on it alone; it stays in its place in the order. */
export function pullLayerOut(doc: Finish, strandId: string, index: number): { edit: Edit; strand: string } {
  const strand = freeId(doc, 'strand');
  const name = nameOf(doc, strandId, index);
  return {
    strand,
    edit: layersEdit(strandId, `pull ${name} out`, (layers, draft) => {
      const layer = layers[index];
      draft.strands.push({
        id: strand,
        name: freeName(draft, layer.media),
        kind: 'picture',
        forSlot: true,
        head: layerHead(layer),
        steps: [],
      });
      layer.from = { strand, after: 'end' };
    }),
  };
}

/** A layer that was pulled out is the drawing alone again; its strand stays where steps are on it. */
export const putLayerBack = (doc: Finish, strandId: string, index: number): Edit =>
  layersEdit(strandId, `put ${nameOf(doc, strandId, index)} back`, (layers, draft) => {
    delete layers[index].from;
    dropUnused(draft);
  });
