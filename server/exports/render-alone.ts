import { renderFrame } from '../../engine/node/render-frame';

/** A process that renders the one frame it is sent, says how that went, and ends. */
process.once('message', async (job: Parameters<typeof renderFrame>[0]) => {
  try {
    process.send?.({ done: await renderFrame(job) });
  } catch (error) {
    process.send?.({ failed: (error as Error).message });
  }
  process.disconnect();
  process.exit(0);
});
process.once('disconnect', () => process.exit(0));
