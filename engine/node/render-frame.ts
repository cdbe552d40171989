import { createHash } from 'node:crypto';
import { availableParallelism } from 'node:os';
import * as v from 'valibot';
import { PictureCache } from '../../core/evaluate/cache';
import { evaluate } from '../../core/evaluate/run';
import { type Finish, forOutput, leadingPass } from '../../core/finish/finish';
import { kindAt } from '../../core/finish/flow';
import { originText } from '../../core/finish/frame-origin';
import { programVersion } from '../../core/finish/program';
import { exportSettings, isExr, isForScreens } from '../../core/formats/export-formats';
import { toLookAt } from '../../core/kernels/plane';
import type { Runtime } from '../../core/kernels/runtime';
import { openWorkspace, type Workspace } from '../../core/kernels/workspace';
import type { Picture } from '../../core/picture/picture';
import { screened } from '../../core/scopes/looking';
import type { ThreadPool } from '../thread-pool';
import { captioned } from './captioned';
import { type DecodedPlace, type DecodedStore, decodedStore } from './decoded-store';
import { encode, type Layer } from './encode';
import { readShared } from './exr-threads';
import { fileSource } from './file-source';
import { type FrameWanted, frameContent } from './frame-key';
import { codeOf, MediaError, outputProblem } from './media-file';
import { threadRuntime } from './runtime';
import { nodeThreadPool } from './thread-pool';
import { writeSynced, writeWhole } from './write-file';

/** One finished frame to write; plain data, so that it can be handed to a thread or another machine. */
export type FrameJob = FrameWanted & {
  out: string;
  /** The key of what is there already: a frame that still has it is not rendered again. */
  known?: string;
  /** `out` is a name for the meantime: whoever asked puts the file in its place. */
  aside?: boolean;
  /** Folders that frames may be read from; any where none are given. */
  roots?: readonly string[];
  /** Threads that may work on it: one where other frames are rendered beside it. */
  threads?: number;
  /** Where passes are kept that were unpacked once; nowhere if not given. */
  decoded?: DecodedPlace;
};

/** What pictures may hold that several outputs share. */
const sharedBytes = 2 ** 30;

/** One for each place: it knows how much it has written. */
const stores = new Map<string, DecodedStore>();
function storeAt(place: DecodedPlace): DecodedStore {
  const known = stores.get(place.folder) ?? decodedStore(place);
  stores.set(place.folder, known);
  return known;
}

/** A finished frame: its key (see `frameContent`), the SHA-256 of its file, and the most memory that its process has held so far. */
export type FrameDone = {
  frame: number;
  key: string;
  bytes: number;
  digest: string;
  millis: number;
  megabytes: number;
  note?: string;
  /** It was right already, and nothing was written. */
  kept?: boolean;
};

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
  const ended = (written: Pick<FrameDone, 'bytes' | 'digest' | 'note' | 'kept'>): FrameDone => ({
    frame,
    key,
    millis: Math.round(performance.now() - began),
    megabytes: Math.ceil(process.resourceUsage().maxRSS / 1024),
    ...written,
  });
  const { key } = frameContent(job);
  if (job.known === key) return ended({ bytes: 0, digest: '', kept: true });
  const source = fileSource(job.media, {
    roots: job.roots,
    reading,
    decoded: job.decoded && storeAt(job.decoded),
    reader: (job.threads ?? 1) > 1 ? readShared : undefined,
  });
  const runtime = runtimeFor(job.threads);
  const settings = v.parse(exportSettings, job.settings);
  const outputs = isExr(settings.format) ? settings.outputs : [];
  // One picture alone: what the plan no longer needs makes room. Several share what they have in common.
  const cache = new PictureCache(runtime.arena, outputs.length > 0 ? sharedBytes : 0);
  /** As files of codes have it: as it leaves a screen, with its caption. */
  const prepared = (workspace: Workspace, shown: Picture) => {
    if (!isForScreens(settings.format)) return shown;
    const { screen, stops } = settings.view ?? { screen: 'plain', stops: 0 };
    const seen = screened(workspace, shown, { by: screen }, stops);
    return settings.caption === undefined
      ? seen
      : captioned(workspace, seen, `${settings.caption}  ${frame}`.trim());
  };
  const pictureAt = (of: Finish) =>
    evaluate(
      { finish: of, point: { strand: of.main, after: 'end' }, frame, scale },
      { runtime, source, cache },
      (finished) => {
        const workspace = openWorkspace(runtime);
        const { width, height, data } = prepared(workspace, toLookAt(workspace, finished));
        // A copy that outlives the engine's memory, and that encoders may read at leisure.
        const copied = { width, height, data: data.slice() };
        workspace.clear();
        return copied;
      },
    );
  const picture = await pictureAt(finish);
  const layers: Layer[] = [];
  for (const name of outputs) {
    const of = forOutput(finish, name);
    layers.push({ name, kind: kindAt(of, of.main, 'end'), picture: await pictureAt(of) });
  }
  const origin = settings.carriesFinish ? originText(finish, job.media, frame, programVersion) : undefined;
  const leading = leadingPass(finish);
  const part = leading && (await source.partOf(leading, frame));
  const { bytes, note } = await encode(picture, settings, part, runtime, origin, layers);
  try {
    await (job.aside ? writeSynced : writeWhole)(job.out, bytes);
  } catch (error) {
    throw new MediaError(`Frame ${frame}: ${job.out} ${outputProblem(error)}`, codeOf(error));
  }
  return ended({ bytes: bytes.length, digest: createHash('sha256').update(bytes).digest('hex'), note });
}
