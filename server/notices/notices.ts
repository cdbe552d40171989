import { Queue, Worker } from 'bullmq';
import { database, rows } from '../base/connect';
import { openRedis, redisPrefix } from '../base/redis';
import { readWebhook, send } from './webhook';

/** Tells the webhook when exports end. What is not taken is sent again by BullMQ, after pauses that grow; a row says that it was begun. */

type Ended = {
  id: number;
  shot: string;
  project: string;
  file: string;
  cancelled: number;
  done: number;
  failed: number;
  of: number;
};

const tries = Number(process.env.ZAFIRO_WEBHOOK_TRIES ?? 8);
const firstPauseMillis = Number(process.env.ZAFIRO_WEBHOOK_PAUSE_MILLIS ?? 5000);

export type Notices = ReturnType<typeof openNotices>;

export function openNotices(complain: (error: Error) => void) {
  const connection = openRedis();
  const options = { connection, prefix: redisPrefix };
  const queue = new Queue('notices', options);
  const worker = new Worker(
    'notices',
    async ({ data }) => {
      const webhook = await readWebhook();
      if (webhook) await send(webhook, data);
    },
    { ...options, concurrency: 4 },
  );
  queue.on('error', () => {});
  worker.on('error', () => {});
  worker.on('failed', (job, error) => {
    if (job && job.attemptsMade >= tries)
      complain(new Error(`webhook: ${error.message} It was tried ${tries} times.`));
  });
  return {
    /** Exports that have ended since it was last looked are told. */
    async look(): Promise<void> {
      const ended = await rows<Ended>(
        `SELECT r.id, s.name AS shot, p.name AS project, r.file_name AS file, r.cancelled,
           (SELECT COUNT(*) FROM export_frame f WHERE f.run_id = r.id AND f.state = 'done') AS done,
           (SELECT COUNT(*) FROM export_frame f WHERE f.run_id = r.id AND f.state = 'failed') AS failed,
           (SELECT COUNT(*) FROM export_frame f WHERE f.run_id = r.id) AS \`of\`
         FROM export_run r JOIN shot s ON s.id = r.shot_id JOIN project p ON p.id = s.project_id
         WHERE NOT r.noticed AND (NOT r.standing OR r.cancelled) AND (r.movie_state IS NULL OR r.cancelled OR r.movie_state IN ('done', 'failed')) AND NOT EXISTS
           (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state IN ('waiting', 'rendering', 'expected')) LIMIT 50`,
      );
      for (const { id, shot, project, file, cancelled, done, failed, of } of ended) {
        const message = {
          event: 'export-ended',
          export: id,
          ...{ project, shot, file },
          cancelled: Boolean(cancelled),
          frames: { done: Number(done), failed: Number(failed), of: Number(of) },
        };
        await queue.add('ended', message, {
          attempts: tries,
          backoff: { type: 'exponential', delay: firstPauseMillis },
          removeOnComplete: true,
          removeOnFail: { age: 86_400 },
        });
        await database().query('UPDATE export_run SET noticed = TRUE WHERE id = ?', [id]);
      }
    },
    async close() {
      await Promise.allSettled([worker.close(true), queue.close()]);
      connection.disconnect();
    },
  };
}
