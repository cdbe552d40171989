import { writeShared } from './shared-memory';

/** The other side of the trial of shared memory. */
self.onmessage = ({ data }: MessageEvent<WebAssembly.Memory>) => {
  writeShared(data);
  self.postMessage('written');
};
