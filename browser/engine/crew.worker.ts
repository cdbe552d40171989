import { type HelperStart, help } from '../../engine/crew';

/** A helper of the engine's worker: says that it is there, then blocks for good. */
self.onmessage = ({ data }: MessageEvent<HelperStart>) => {
  self.postMessage('ready');
  help(data);
};
