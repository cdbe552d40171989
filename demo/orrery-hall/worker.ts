import { parentPort, workerData } from 'node:worker_threads';
import { buffersOn, renderRows } from './render';

/** Takes bands of rows of a frame as they are handed out, and says when each is done. */
const port = parentPort!;
port.on('message', ({ memory, frame, y0, y1 }: { memory: number; frame: number; y0: number; y1: number }) => {
  renderRows(frame, y0, y1, buffersOn((workerData as SharedArrayBuffer[])[memory]));
  port.postMessage(0);
});
