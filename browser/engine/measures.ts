import type { FrameSource } from '../../core/evaluate/run';
import { measuresOfFrame } from './measures-of-a-frame';
import { measuresOfPlaces } from './measures-of-places';
import { measuresOverTime } from './measures-over-time';
import type { Queue } from './queue';

/** Measurements of pictures, for whoever asks the engine. */
export const measures = (queue: Queue, source: FrameSource) => ({
  ...measuresOfFrame(queue),
  ...measuresOverTime(queue, source),
  ...measuresOfPlaces(queue, source),
});
