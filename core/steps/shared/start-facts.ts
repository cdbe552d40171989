import type { ValueHistogram } from '../../scopes/values';

/**
 * What is known of the picture when a step is added, on the frame that is looked at. A step says in `start` which of its values it takes from
 * there, so that what has just been added changes what one sees.
 */
export type StartFacts = {
  /** The luminance above which a good part of the light lies that the step takes from; none where it is black. */
  threshold?: number;
  /** The middle of that light, in pixels from the middle of the frame, to the right and upwards. */
  middle?: readonly [number, number];
  /** How the values lie that come to the step, or, of a step with a slot for depth, those of the depth linked there. */
  values?: ValueHistogram;
  /** Of the covered pixels of what comes to the step the share that are as their neighbour: drawings have many. */
  flat?: number;
};
