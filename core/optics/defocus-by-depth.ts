import {
  confusion,
  doubled,
  fillHidden,
  halved,
  inBands,
  type Layer,
  layerPart,
  layOver,
  varianceOfHalving,
} from '../kernels/depth';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';
import { type Box, grown } from '../picture/region';
import type { BlurShape } from './blur-shape';
import { defocused, sharpBelow } from './defocus';
import { type DepthLevel, depthLevels } from './depth-levels';

/**
 * From these radii on a part is worked on at half and at a quarter of its size: its edge is softer by 1.2 and 2.7 pixels then, and its middle brighter by 6 % at
 * the most.
 */
const [halvedFrom, quarteredFrom] = [10, 26];

/**
 * A picture out of focus by its depth: the radius of each pixel is `scale` · (1 − focus/depth), near ones below 0, no more than `most`. Layers of one radius
 * each are completed behind what is nearer, blurred each by itself, and laid over each other from the far to the near: what is in focus is not bled
 * over from behind, what is near spreads over it, and behind an edge the far goes on as it is beside it, but for its bright places.
 */
export function defocusedByDepth(
  workspace: Workspace,
  picture: Picture,
  depth: Picture,
  shape: BlurShape,
  lens: { focus: number; scale: number; most: number },
): Picture {
  const radii = confusion(workspace, depth, lens);
  const levels = depthLevels(radii.data, picture.width, lens.most);
  const opaque = isOpaque(picture);
  const sum = workspace.blank(picture.width, picture.height);
  for (const [i, { radius, far, hiddenBy, box }] of levels.entries()) {
    workspace.runtime.checkpoint();
    const layer: Layer = {
      farther: levels[i - 1]?.near,
      here: far,
      nearer: hiddenBy,
      // The farthest is behind everything.
      box: boxAround(i === 0 ? undefined : box, levels.slice(i), picture),
    };
    const part = layerPart(workspace, picture, radii, layer, opaque);
    fillHidden(workspace, part, radii, layer);
    const light = softened(workspace, part.light, shape, Math.abs(radius));
    const share = part.share && softenedPlane(workspace, part.share, shape, Math.abs(radius));
    layOver(workspace, sum, { light, share }, layer.box, opaque);
    for (const taken of new Set([part.light, part.share, light, share])) if (taken) workspace.drop(taken);
  }
  workspace.drop(radii);
  return sum;
}

const isOpaque = ({ data }: Picture) => {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 1) return false;
  return true;
};

/** How far a blur reaches: corners of blades lie further out than their radius. */
const reach = (r: number) => Math.ceil(1.6 * Math.abs(r)) + 4;

/** The box of a layer with all that its blur, or that of a nearer one, may bring to light; the whole picture without one. */
function boxAround(
  box: DepthLevel['box'] | undefined,
  [own, ...nearer]: readonly DepthLevel[],
  { width, height }: Picture,
): Box {
  const whole = { x: 0, y: 0, width, height };
  if (!box) return whole;
  const by = reach(own.radius) + Math.max(0, ...nearer.map(({ radius }) => reach(radius)));
  const [x, y, right, bottom] = box;
  // On a grid: halving finds the same pixels however large the part is, and few sizes need few transforms.
  return grown({ x, y, width: right - x, height: bottom - y, of: whole }, by) ?? whole;
}

/** A part as it is out of focus; one that is sharp as it is. */
function softened(workspace: Workspace, part: Picture, shape: BlurShape, radius: number): Picture {
  if (radius < sharpBelow) return part;
  return blurredAt(workspace, part, shape, radius, radius < halvedFrom ? 0 : radius < quarteredFrom ? 1 : 2);
}

/** The same of a plane. What halvings soften reaches a little further. */
function softenedPlane(workspace: Workspace, plane: Picture, shape: BlurShape, radius: number): Picture {
  if (radius < sharpBelow) return plane;
  return inBands(workspace, plane, reach(radius) + 8, (bands) => softened(workspace, bands, shape, radius));
}

/** A part blurred after so many halvings, whose own blur is taken off: of a disc the variance each way is a quarter of the radius squared. */
function blurredAt(
  workspace: Workspace,
  part: Picture,
  shape: BlurShape,
  radius: number,
  halvings: number,
): Picture {
  if (halvings === 0) return defocused(workspace, part, shape, radius);
  const small = halved(workspace, part);
  const left = Math.sqrt(radius * radius - 4 * varianceOfHalving) / 2;
  const soft = blurredAt(workspace, small, shape, left, halvings - 1);
  const out = doubled(workspace, soft, part.width, part.height);
  for (const taken of [small, soft]) workspace.drop(taken);
  return out;
}
