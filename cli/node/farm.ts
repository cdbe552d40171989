import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { setTimeout as sleep } from 'node:timers/promises';
import type { AnswerOf, Given } from '../../api/contract';
import {
  beat,
  deliverFrame,
  giveBackFrame,
  joinFarm,
  leaveFarm,
  type NodeClaim,
  type NodeJob,
  readFrameFile,
  takeFrames,
} from '../../api/node';
import { answerIn, RequestError, request, requestBytes } from '../../api/request';
import type { FrameDone } from '../../engine/node/render-frame';
import type { Fetch } from './mirror';

/** What a machine says to the server. What fails because the server is away, or busy, is tried again until it goes through. */

const pauses = [200, 500, 1000, 2000, 4000];
/** An answer that waits for frames takes up to ten seconds. */
const patienceMillis = 30_000;

export type Farm = ReturnType<typeof openFarm>;

export function openFarm(server: string, token: string, signal: AbortSignal, say: (text: string) => void) {
  const base = server.replace(/\/+$/, '');
  const headers = { authorization: `Bearer ${token}` };
  const soon = (also?: AbortSignal) =>
    AbortSignal.any([signal, AbortSignal.timeout(patienceMillis), ...(also ? [also] : [])]);
  let isAway = false;

  /** Tries again what may go through later. @throws {RequestError} where it is refused. */
  async function persist<T>(work: () => Promise<T>, also?: AbortSignal): Promise<T> {
    for (let n = 0; ; n++)
      try {
        const done = await work();
        if (isAway) say('The server is there again.');
        isAway = false;
        return done;
      } catch (error) {
        signal.throwIfAborted();
        also?.throwIfAborted();
        if (error instanceof RequestError && !error.passes) throw error;
        if (!isAway && n > 0) say(`${(error as Error).message} It is asked again until it does.`);
        isAway ||= n > 0;
        await sleep(pauses[Math.min(n, pauses.length - 1)], undefined, {
          signal: also ? AbortSignal.any([signal, also]) : signal,
        });
      }
  }

  let node = 0;
  const at = ({ run, frame, attempt }: NodeClaim) => ({ node, run, frame, attempt });
  return {
    /** @throws {RequestError} where the token or the build is another. */
    async join(self: Given<typeof joinFarm>['body']): Promise<number> {
      const joined = await persist(() =>
        request(joinFarm, { body: self }, { base, headers, signal: soon() }),
      );
      node = joined.node;
      return joined.beatMillis;
    },
    take: (most: number): Promise<AnswerOf<typeof takeFrames>> =>
      persist(() =>
        request(takeFrames, { params: { node }, body: { most } }, { base, headers, signal: soon() }),
      ),
    /** Once: the next comes soon. */
    beat: (held: NodeClaim[]): Promise<AnswerOf<typeof beat>> =>
      request(beat, { params: { node }, body: { held } }, { base, headers, signal: soon() }),
    /** Reads files of a frame's media from the server. */
    reader:
      (job: NodeJob, lost: AbortSignal): Fetch =>
      ({ media, frame }, beside) =>
        persist(
          () =>
            requestBytes(
              readFrameFile,
              { params: at(job), query: { media, at: frame, beside } },
              {
                base,
                // Pictures are packed already.
                headers: { ...headers, 'accept-encoding': 'identity' },
                signal: AbortSignal.any([signal, lost]),
              },
            ),
          lost,
        ),
    /** Gives whether the frame was put in its place. */
    async deliver(job: NodeJob, done: FrameDone, path: string, lost: AbortSignal): Promise<boolean> {
      const { key, millis, bytes, digest, kept, note } = done;
      const query = {
        ...{ key, millis, bytes, note: note?.slice(0, 2000) },
        ...(kept ? { kept: 'yes' as const } : { digest }),
      };
      const send = async () => {
        const body = kept
          ? undefined
          : (Readable.toWeb(createReadStream(path, { highWaterMark: 2 ** 20 })) as unknown as BodyInit);
        const response = await requestBytes(
          deliverFrame,
          { params: at(job), query },
          {
            base,
            headers,
            signal: AbortSignal.any([signal, lost]),
            ...(body ? { body, duplex: 'half' } : {}),
          },
        );
        return answerIn(deliverFrame, response);
      };
      return (await persist(send, lost)).placed;
    },
    giveBack: (job: NodeJob, state: 'failed' | 'died' | 'waiting', note?: string) =>
      persist(() =>
        request(
          giveBackFrame,
          { params: at(job), body: { state, note: note?.slice(0, 20_000) } },
          { base, headers, signal: soon() },
        ),
      ),
    /** Once, at the end. */
    leave: () =>
      request(leaveFarm, { params: { node } }, { base, headers, signal: AbortSignal.timeout(2000) }).catch(
        () => {},
      ),
  };
}
