import { renderFrame } from './render-frame';

/** What a thread of the pool does with a job. */
export default renderFrame;
