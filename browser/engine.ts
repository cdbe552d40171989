import { type Remote, wrap } from 'comlink';
import type { Engine } from './engine.worker';

/** Starts the engine's worker. */
export function startEngine(): { engine: Remote<Engine>; end(): void } {
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
  return { engine: wrap<Engine>(worker), end: () => worker.terminate() };
}
