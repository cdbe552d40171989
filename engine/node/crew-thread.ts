import { workerData } from 'node:worker_threads';
import { type HelperStart, help } from '../crew';

help(workerData as HelperStart);
