import { LRUCache } from 'lru-cache';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { planOf } from '../../core/evaluate/plan/plan';
import { evaluate, type FrameSource, Overtaken } from '../../core/evaluate/run';
import type { Finish, Tap } from '../../core/finish/finish';
import { addedShare } from '../../core/scopes/light';
import { coveredShare } from '../../core/scopes/looking';
import { middleOf } from '../../core/scopes/middle';
import { asResult, kindOf, matteIn, pointBefore, smallScale, withRunWorkspace } from './places';
import type { Queue } from './queue';
import type { Purpose } from './requests';

/** Measurements of many frames, reported frame by frame: shares of light and of mattes, middles. */
export function measuresOverTime(queue: Queue, source: FrameSource) {
  /** Shares of frames by what they depend on: an edit that does not change a frame costs no more than planning it. */
  const shares = new LRUCache<string, number>({ max: 20_000 });

  /**
   * Of each frame the share that a matte covers, or the share of its light that a step adds, reported frame by frame; what cannot be had is left
   * out.
   */
  const sharesFor =
    (purpose: Purpose) =>
    (
      number: number,
      finish: Finish,
      point: Tap,
      frames: number[],
      report: (frame: number, share: number) => void,
    ) =>
      queue(purpose, number, async (run): Promise<[number, number][]> => {
        const all: [number, number][] = [];
        const isMatte = kindOf(finish, point) !== 'picture' || point.as !== undefined;
        const before = isMatte ? undefined : pointBefore(finish, point.after);
        if (!isMatte && !before) return all;
        const measured = isMatte ? finish : asResult(finish, point.after);
        for (const frame of frames) {
          try {
            const request = (p: StrandPoint) => ({ finish: measured, point: p, frame, scale: smallScale });
            const key = `${point.as ?? ''} ${planOf(request(point), source.identity).key} ${
              before ? planOf(request(before), source.identity).key : ''
            }`;
            const known = shares.get(key);
            const share =
              known ??
              (before
                ? await evaluate(request(before), run, (b) =>
                    evaluate(request(point), run, (p) => addedShare(b, p)),
                  )
                : await evaluate(request(point), run, (p) =>
                    withRunWorkspace(run, (workspace) => coveredShare(matteIn(workspace, p, point))),
                  ));
            shares.set(key, share);
            all.push([frame, share]);
            report(frame, share);
          } catch (error) {
            if (error instanceof Overtaken) throw error;
          }
        }
        return all;
      });

  return {
    coverage: sharesFor('coverage'),
    /** The same for whoever waits for all of them: charts do not overtake it. */
    allShares: sharesFor('middles'),
    /** The middle of what a place covers, or of its light, on those of the frames where there is any, in pixels of the full frame. */
    middles: (
      number: number,
      finish: Finish,
      point: StrandPoint,
      frames: number[],
      progress: (done: number) => void,
    ) =>
      queue('middles', number, async (run): Promise<{ frame: number; x: number; y: number }[]> => {
        const places: { frame: number; x: number; y: number }[] = [];
        for (const [i, frame] of frames.entries()) {
          try {
            const found = await evaluate({ finish, point, frame, scale: 1 }, run, (p) => middleOf(p));
            if (found) places.push({ frame, ...found });
          } catch (error) {
            if (error instanceof Overtaken) throw error;
            // A frame that is not there has no middle.
          }
          progress(i + 1);
        }
        return places;
      }),
    /** Ends it: the frames that were not reported are left. */
    stopMiddles: (number: number) => queue('middles', number, async () => true),
    /** Likewise of the coverage. */
    stopCoverage: (number: number) => queue('coverage', number, async () => true),
  };
}
