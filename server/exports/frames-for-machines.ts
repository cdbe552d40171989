import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, mkdirSync, rmSync, statSync } from 'node:fs';
import { open, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import * as v from 'valibot';
import type { NodeClaim, NodeJob } from '../../api/node';
import { openFinish } from '../../core/finish/validation';
import { exportSettings } from '../../core/formats/export-formats';
import { frameContent } from '../../engine/node/frame-key';
import { frameFile } from '../../engine/node/media';
import { fileProblem } from '../../engine/node/media-file';
import { listsBeside } from '../../engine/node/metadata';
import { hasSpace } from '../base/free-space';
import { BadRequest, NotFound, Refused } from '../base/refusals';
import { nextMessage } from '../changes/bus';
import { lookAt } from '../media/reader/reader';
import { insideRoots } from '../media/roots';
import { hearOf, type MachineState } from '../nodes/machines';
import { type FrameOrder, openFrameOrder } from './order';
import { type Claim, claimOf, placeFrame, reportDeath, reportFrame, standingKey, takeFrame } from './queue';

/** Frames for machines that render: handed out, their media read, their files taken in. The server alone puts a file in its place. */

const held = globalThis as { zafiroOrder?: FrameOrder };
/** Files are read in pieces of this size: each costs a turn of the loop. */
const pieceBytes = 2 ** 20;

const order = () => {
  held.zafiroOrder ??= openFrameOrder();
  return held.zafiroOrder;
};

/** How long an answer waits for a frame. */
const waitMillis = 10_000;

/** @throws {NotFound} for a machine that was never there. */
export async function machine(node: number): Promise<MachineState> {
  const state = await hearOf(node);
  if (!state) throw new NotFound('This machine has not joined. Start it again.');
  return state;
}

/** What a machine needs to render a claimed frame; undefined where it cannot be rendered, which is noted. */
async function jobOf(claim: Claim): Promise<NodeJob | undefined> {
  const { run, frame, attempt, job } = claim;
  try {
    const { finish } = openFinish(job.finish);
    const { files } = frameContent({ ...job, finish });
    for (const { path } of files) insideRoots(path, `Frame ${frame}: `);
    return {
      ...{ run, frame, attempt, finish, files },
      media: job.media,
      settings: v.parse(exportSettings, job.settings),
      known: job.known,
    };
  } catch (error) {
    await reportFrame(claim, { state: 'failed', note: (error as Error).message, waitsForInput: true });
    return undefined;
  }
}

/** Frames for a machine, `most` of them; waits for the first. */
export async function giveFrames(
  node: number,
  most: number,
  signal: AbortSignal,
): Promise<{ jobs: NodeJob[] } & MachineState> {
  const jobs: NodeJob[] = [];
  const until = performance.now() + waitMillis;
  for (;;) {
    const state = await machine(node);
    while (!state.draining && !state.removed && jobs.length < most && !signal.aborted && (await hasSpace())) {
      const claim = await takeFrame(order(), node);
      if (!claim) break;
      const job = await jobOf(claim);
      if (job) jobs.push(job);
    }
    const left = until - performance.now();
    if (jobs.length > 0 || state.draining || state.removed || left <= 0 || signal.aborted)
      return { jobs, ...state };
    await nextMessage('frames', Math.min(left, 2000));
  }
}

/** @throws {Refused} where the frame is another's by now. */
async function heldClaim(id: NodeClaim, node: number): Promise<Claim> {
  const claim = await claimOf(id, node);
  if (claim) return claim;
  throw new Refused('conflict', `Frame ${id.frame} is not this machine’s any more.`);
}

/** A file that a claimed frame is made of, or one that lies `beside` it. */
export async function frameFileOf(
  id: NodeClaim,
  node: number,
  { media, at, beside }: { media: string; at: number; beside?: string },
): Promise<Response> {
  const { job } = await heldClaim(id, node);
  const { path: main } = frameFile(job.media, media, at);
  const about = `Frame ${at}: `;
  const path = insideRoots(beside === undefined ? main : join(dirname(main), beside), about);
  try {
    if (beside !== undefined && !listsBeside(await readFile(insideRoots(main, about))).includes(beside))
      throw new BadRequest(`“${beside}” is not named by ${main}.`);
    const { size, mtimeMs } = statSync(path);
    return new Response(
      Readable.toWeb(
        createReadStream(path, { end: Math.max(0, size - 1), highWaterMark: pieceBytes }),
      ) as ReadableStream,
      {
        headers: {
          'content-type': 'application/octet-stream',
          'x-zafiro-size': String(size),
          'x-zafiro-modified': String(Math.round(mtimeMs)),
          'cache-control': 'no-store',
        },
      },
    );
  } catch (error) {
    if (error instanceof BadRequest) throw error;
    throw new NotFound(`${about}${path} ${fileProblem(error)}`);
  }
}

/** Deliveries that are under way: the same one sent again waits for nobody. */
const arriving = new Set<string>();

type Delivery = { key: string; millis: number; bytes: number; digest?: string; kept?: 'yes'; note?: string };

/** Takes the file of a frame in, whole and as it was sent, and puts it in its place. */
export async function takeIn(
  id: NodeClaim,
  node: number,
  { key, millis, bytes, digest, kept, note }: Delivery,
  body: ReadableStream<Uint8Array> | null,
): Promise<{ placed: boolean }> {
  const claim = await heldClaim(id, node);
  const { out } = claim.job;
  if (kept) {
    // Only what the server itself has told the machine of can be right already.
    if ((await standingKey(claim)) !== key)
      throw new BadRequest(`Frame ${id.frame} is not there yet. Render it and send it.`);
    return { placed: await placeFrame(claim, { key, millis, note, bytes: 0, digest: '', kept: true }) };
  }
  if (!body || !digest) throw new BadRequest('The frame came without its bytes. Send it again.');
  if (arriving.has(out)) throw new Refused('unavailable', 'This frame is on its way already.');
  arriving.add(out);
  try {
    mkdirSync(dirname(out), { recursive: true });
    const hash = createHash('sha256');
    let arrived = 0;
    const count = new Transform({
      transform(chunk, _, done) {
        hash.update(chunk);
        arrived += chunk.length;
        // More than was said fills no disk.
        if (arrived > bytes)
          done(new BadRequest(`Frame ${id.frame} is longer than was said. Send it again.`));
        else done(null, chunk);
      },
    });
    await pipeline(Readable.fromWeb(body as never), count, createWriteStream(out));
    if (arrived !== bytes || hash.digest('hex') !== digest)
      throw new BadRequest(
        `Frame ${id.frame} arrived with ${arrived} of ${bytes} bytes, or changed on the way. Send it again.`,
      );
    const file = await open(out, 'r');
    await file.sync();
    await file.close();
    // Whatever a machine says it is: what no reader takes is no frame.
    await lookAt({ path: out, about: `Frame ${id.frame}: what the machine sent as ` });
    return { placed: await placeFrame(claim, { key, millis, bytes, digest, note }) };
  } catch (error) {
    rmSync(out, { force: true });
    throw error;
  } finally {
    arriving.delete(out);
  }
}

/** A machine could not render a frame. */
export async function giveBack(
  id: NodeClaim,
  node: number,
  state: 'failed' | 'died' | 'waiting',
  note?: string,
): Promise<void> {
  const claim = await claimOf(id, node);
  if (!claim) return;
  if (state === 'died')
    await reportDeath(claim, note ?? `Frame ${id.frame}: Rendering it ended its process.`);
  else await reportFrame(claim, { state, note, waitsForInput: state === 'failed' });
}
