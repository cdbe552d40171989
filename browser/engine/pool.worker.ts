import { runWorker, type WorkerStart } from '../../engine/thread-pool';

/** A worker of the engine's worker: says that it is there, then blocks for good. */
self.onmessage = ({ data }: MessageEvent<WorkerStart>) => {
  self.postMessage('ready');
  runWorker(data);
};
