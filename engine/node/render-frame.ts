import { availableParallelism } from 'node:os';
import { PictureCache } from '../../core/evaluate/cache';
import { evaluate } from '../../core/evaluate/run';
import { type Finish, leadingPass } from '../../core/finish/finish';
import { originText } from '../../core/finish/frame-origin';
import { programVersion } from '../../core/finish/program';
import type { GivenSettings } from '../../core/formats/export-formats';
import { toLookAt } from '../../core/kernels/plane';
import type { Runtime } from '../../core/kernels/runtime';
import { openWorkspace } from '../../core/kernels/workspace';
import type { ThreadPool } from '../thread-pool';
import { type DecodedPlace, type DecodedStore, decodedStore } from './decoded-store';
import { encode } from './encode';
import { readShared } from './exr-threads';
import { fileSource } from './file-source';
import type { MediaSpecs } from './media';
import { codeOf, MediaError, outputProblem } from './media-file';
import { threadRuntime } from './runtime';
import { nodeThreadPool } from './thread-pool';
import { writeWhole } from './write-file';

/** One finished frame to write; plain data, so that it can be handed to a thread or another machine. */
export type FrameJob = {
  finish: Finish;
  media: MediaSpecs;
  frame: number;
  scale: number;
  out: string;
  /** How it is written. */
  settings: GivenSettings;
  /** Folders that frames may be read from; any where none are given. */
  roots?: readonly string[];
  /** Threads that may work on it: one where other frames are rendered beside it. */
  threads?: number;
  /** Where passes are kept that were unpacked once; nowhere if not given. */
  decoded?: DecodedPlace;
};

/** One for each place: it knows how much it has written. */
const stores = new Map<string, DecodedStore>();
function storeAt(place: DecodedPlace): DecodedStore {
  const known = stores.get(place.folder) ?? decodedStore(place);
  stores.set(place.folder, known);
  return known;
}

/** `megabytes` is the most memory that its process has held so far. */
export type FrameDone = { frame: number; bytes: number; millis: number; megabytes: number; note?: string };

/** The threads of this process, on one memory whether they share a frame or not. */
let pool: ThreadPool | undefined;
const reservedMegabytes = 3072;
function runtimeFor(threads: number | undefined): Runtime {
  // Nobody renders beside it, and nobody waits.
  if (threads === undefined) return threadRuntime();
  pool ??= nodeThreadPool(availableParallelism(), new URL('./', import.meta.url), reservedMegabytes, {
    late: true,
  });
  pool.share(threads > 1);
  return pool;
}

/** Renders the end of the main strand at full precision and writes it, whole or not at all. `reading` is called with the file that is being read. */
export async function renderFrame(job: FrameJob, reading?: (path?: string) => void): Promise<FrameDone> {
  const began = performance.now();
  const { finish, frame, scale } = job;
  const source = fileSource(job.media, {
    roots: job.roots,
    reading,
    decoded: job.decoded && storeAt(job.decoded),
    reader: (job.threads ?? 1) > 1 ? readShared : undefined,
  });
  const runtime = runtimeFor(job.threads);
  // Nothing is asked for twice here: what the plan no longer needs makes room.
  const cache = new PictureCache(runtime.arena, 0);
  const point = { strand: finish.main, after: 'end' };
  const picture = await evaluate({ finish, point, frame, scale }, { runtime, source, cache }, (finished) => {
    const workspace = openWorkspace(runtime);
    const { width, height, data } = toLookAt(workspace, finished);
    // A copy that outlives the engine's memory, and that encoders may read at leisure.
    const copied = { width, height, data: data.slice() };
    workspace.clear();
    return copied;
  });
  const carries = job.settings.carriesFinish ?? true;
  const origin = carries ? originText(finish, job.media, frame, programVersion) : undefined;
  const leading = leadingPass(finish);
  const part = leading && (await source.partOf(leading, frame));
  const { bytes, note } = await encode(picture, job.settings, part, runtime, origin);
  try {
    await writeWhole(job.out, bytes);
  } catch (error) {
    throw new MediaError(`Frame ${frame}: ${job.out} ${outputProblem(error)}`, codeOf(error));
  }
  const megabytes = Math.ceil(process.resourceUsage().maxRSS / 1024);
  return { frame, bytes: bytes.length, millis: Math.round(performance.now() - began), megabytes, note };
}
