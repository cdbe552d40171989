import { workerData } from 'node:worker_threads';
import { runWorker, type WorkerStart } from '../thread-pool';

runWorker(workerData as WorkerStart);
