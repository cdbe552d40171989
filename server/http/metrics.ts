import { statfs } from 'node:fs/promises';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Route } from '../../api/contract';
import { rows } from '../base/connect';
import { dataFolder } from '../base/data-folder';
import { isHeardOf } from '../nodes/machines';

/** Measurements in the text format of Prometheus. No name of a project, a shot or a person is in them. */

const held = globalThis as { zafiroMetrics?: ReturnType<typeof begun> };

function begun() {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'zafiro_' });
  const gauge = (
    name: string,
    help: string,
    read: (g: Gauge<string>) => Promise<void>,
    labels: string[] = [],
  ) =>
    new Gauge({
      name: `zafiro_${name}`,
      help,
      labelNames: labels,
      registers: [registry],
      async collect() {
        this.reset();
        // What cannot be measured just now is left out.
        await read(this).catch(() => {});
      },
    });
  gauge(
    'export_frames',
    'Frames of exports by state',
    async (g) => {
      const found = await rows<{ state: string; n: number }>(
        'SELECT state, COUNT(*) AS n FROM export_frame GROUP BY state',
      );
      for (const { state, n } of found) g.set({ state }, Number(n));
    },
    ['state'],
  );
  gauge('machines', 'Machines that render and were heard of within the last 12 seconds', async (g) => {
    const [{ n }] = await rows<{ n: number }>(
      `SELECT COUNT(*) AS n FROM render_node WHERE NOT removed AND ${isHeardOf}`,
    );
    g.set(Number(n));
  });
  gauge('sessions', 'Sessions that were seen within the last 5 minutes', async (g) => {
    const [{ n }] = await rows<{ n: number }>(
      'SELECT COUNT(*) AS n FROM session WHERE seen_at > NOW(3) - INTERVAL 5 MINUTE',
    );
    g.set(Number(n));
  });
  gauge('disk_free_bytes', 'Bytes that are free on the disk of the data folder', async (g) => {
    const { bavail, bsize } = await statfs(dataFolder());
    g.set(bavail * bsize);
  });
  const requests = new Histogram({
    name: 'zafiro_request_seconds',
    help: 'How long requests took, by route and status',
    labelNames: ['route', 'status'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 15],
    registers: [registry],
  });
  return { registry, requests };
}

// One for all bundles of the server: each has a copy of this module.
const now = () => {
  held.zafiroMetrics ??= begun();
  return held.zafiroMetrics;
};

export const countRequest = ({ method, path }: Route, status: number, millis: number) =>
  now().requests.observe({ route: `${method} ${path}`, status: String(status) }, millis / 1000);

export const metricsText = () => now().registry.metrics();
