import { LRUCache } from 'lru-cache';
import { cubeOf, pixelRunAt } from '../../core/evaluate/lookup';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { planOf } from '../../core/evaluate/plan/plan';
import { evaluate, type FrameSource, Overtaken } from '../../core/evaluate/run';
import { newFinish } from '../../core/finish/edits';
import { type Finish, findStep, pointIndex, type Tap } from '../../core/finish/finish';
import { kindsAlong } from '../../core/finish/flow';
import { headTaps } from '../../core/finish/graph';
import { projected } from '../../core/formats/camera';
import type { Cube } from '../../core/formats/cube';
import type { RangeChannel } from '../../core/kernels/key';
import { toLookAt } from '../../core/kernels/plane';
import { takeLight } from '../../core/kernels/point';
import type { Picture } from '../../core/picture/picture';
import type { Region } from '../../core/picture/region';
import { grayOf, type Located, locate, templateAt } from '../../core/scopes/follow';
import {
  addedShare,
  flatShare,
  type LightHistogram,
  lightHistogram,
  lightThreshold,
} from '../../core/scopes/light';
import { coveredShare } from '../../core/scopes/looking';
import { middleOf } from '../../core/scopes/middle';
import { type ValueHistogram, valueHistogram } from '../../core/scopes/values';
import { scopesOf } from '../../core/scopes/waveform';
import type { TableSpace } from '../../core/steps/finish/lookup-table';
import { middleOfLight } from '../../core/steps/light/take';
import { stepSpec } from '../../core/steps/registry';
import { bandChannelOf } from '../../core/steps/shared/band-channel';
import type { StartFacts } from '../../core/steps/shared/start-facts';
import type { Measured, Stop } from './answers';
import {
  asResult,
  kindOf,
  lightMaskOf,
  matteIn,
  pointBefore,
  pointOfLight,
  smallScale,
  withRunWorkspace,
} from './places';
import type { Queue } from './queue';
import type { Purpose } from './requests';

type PlaceAt = { width: number; height: number; found: number[] | undefined };
type SceneFrame = { frame: number; x: number; y: number; state: 'seen' | 'hidden' | 'outside' };
/** Places of a scene, or why there are none: no surface under the pixel, or no camera in the files. */
export type ScenePlaces =
  | { place: [number, number, number]; places: SceneFrame[] }
  | { problem: 'nothing' | 'camera'; frame?: number };
export type Followed = {
  places: { frame: number; x: number; y: number; confidence: number }[];
  /** Frames on which it was not found any more. */
  lost: number[];
};

/** Below this correlation a patch is lost. */
const leastConfidence = 0.8;

/** Nearer to the camera than the place by more than a fiftieth: something stands before it. */
function stateOf(
  found: readonly number[],
  place: readonly number[],
  camera?: readonly number[],
): 'seen' | 'hidden' {
  const far = (p: readonly number[], q: readonly number[]) =>
    Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  if (!found.every(Number.isFinite) || !camera) return 'seen';
  const [here, there] = [far(found, camera), far(place, camera)];
  // A pixel of sky says nothing.
  return here > 0 && found.some((v) => v !== 0) && here < there * 0.98 ? 'hidden' : 'seen';
}

/** Measurements of pictures: pixels, histograms, shares. */
export function measures(queue: Queue, source: FrameSource) {
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
    /** The value of one pixel after every place on its way to the end of a strand, through what its steps take too; each place once. */
    journey: (number: number, finish: Finish, strandId: string, frame: number, x: number, y: number) =>
      queue('journey', number, async (run): Promise<Stop[]> => {
        const stops: Stop[] = [];
        const seen = new Set<string>();
        const along = async (id: string, until: string) => {
          const strand = finish.strands.find((s) => s.id === id);
          if (!strand) return;
          const kinds = kindsAlong(finish, strand);
          if (!seen.has(`${id}/head`))
            for (const tap of headTaps(strand.head)) await along(tap.strand, tap.after);
          const places = ['head', ...strand.steps.map((s) => s.id)];
          for (const [i, after] of places.slice(0, pointIndex(strand, until) + 1).entries()) {
            if (seen.has(`${id}/${after}`)) continue;
            seen.add(`${id}/${after}`);
            const step = strand.steps[i - 1];
            for (const tap of Object.values(step && !step.bypass ? step.slots : {}))
              await along(tap.strand, tap.after);
            await evaluate({ finish, point: { strand: id, after }, frame, scale: 1 }, run, (p) => {
              const at = Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x);
              const [r, g, b, a] =
                p.channels === 1 ? [...Array(3).fill(p.data[at]), 1] : p.data.subarray(at * 4, at * 4 + 4);
              stops.push({ strand: id, step: step?.id, kind: kinds[i], rgba: [r, g, b, a] });
            });
          }
        };
        await along(strandId, 'end');
        return stops;
      }),

    /** The numbers of one pixel that come to a step. */
    pixel: (number: number, finish: Finish, stepId: string, frame: number, x: number, y: number) =>
      queue('pick', number, async (run): Promise<number[] | undefined> => {
        const point = pointBefore(finish, stepId);
        if (!point) return;
        return evaluate({ finish, point, frame, scale: 1 }, run, (p) => {
          const at = (Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x)) * p.channels;
          return Array.from(p.data.subarray(at, at + p.channels));
        });
      }),

    /** Facts of the picture for the start values of an added step. */
    start: (number: number, finish: Finish, stepId: string, frame: number) =>
      queue('start', number, async (run): Promise<StartFacts> => {
        const step = findStep(finish, stepId)?.step;
        const spec = step && stepSpec(step.type);
        if (!spec?.start) return {};
        const small = <T>(point: StrandPoint | undefined, use: Parameters<typeof evaluate<T>>[2]) =>
          point && evaluate({ finish, point, frame, scale: 0.5 }, run, use);
        const facts: StartFacts = {};
        if (spec.editors?.some((editor) => editor.kind === 'light'))
          await small(pointOfLight(finish, stepId), (p) =>
            withRunWorkspace(run, (workspace) => {
              const picture = toLookAt(workspace, p);
              const threshold = lightThreshold(lightHistogram(picture));
              facts.threshold = threshold;
              if (threshold === undefined) return;
              const taken = takeLight(workspace, picture, { threshold, knee: 0, limit: 0, tint: [1, 1, 1] });
              const middle = middleOfLight(taken);
              if (middle)
                facts.middle = [(middle[0] - (p.width - 1) / 2) * 2, ((p.height - 1) / 2 - middle[1]) * 2];
            }),
          );
        const point = 'depth' in spec.slots ? step!.slots.depth : pointBefore(finish, stepId);
        const channel = bandChannelOf(spec, step!.values);
        await small(point, (p) =>
          withRunWorkspace(run, (workspace) => {
            const seen = toLookAt(workspace, p);
            facts.values = valueHistogram(seen, channel);
            facts.flat = flatShare(seen);
          }),
        );
        return facts;
      }),

    /** How far the passes of a mix, as they were rendered, are from their beauty, by channel: on average, and at the most. */
    residual: (number: number, finish: Finish, strandId: string, frame: number) =>
      queue('histogram', number, async (run): Promise<{ mean: number; most: number } | undefined> => {
        const strand = finish.strands.find((s) => s.id === strandId);
        if (strand?.head.type !== 'mix' || strand.head.beauty === undefined) return;
        const passes = strand.head.passes.map(({ pass }) => ({ pass, gain: 1 }));
        const head = { ...strand.head, passes, show: 'residual' as const };
        const shown = {
          ...finish,
          strands: finish.strands.map((s) => (s.id === strandId ? { ...s, head } : s)),
        };
        const point = { strand: strandId, after: 'head' };
        return evaluate({ finish: shown, point, frame, scale: 1 }, run, (p) => {
          let [sum, most] = [0, 0];
          for (let i = 0; i < p.data.length; i++) {
            if (i % 4 === 3) continue;
            const off = Math.abs(p.data[i]);
            sum += off;
            if (off > most) most = off;
          }
          return { mean: sum / (p.data.length * 0.75), most };
        });
      }),

    /** What a run of steps of colour makes of a cube of codes, as a table. */
    lookupTable: (
      number: number,
      finish: Finish,
      stepId: string,
      frame: number,
      size: number,
      space: TableSpace,
    ) =>
      queue(
        'pick',
        number,
        async (run): Promise<Cube> =>
          withRunWorkspace(run, (workspace) =>
            cubeOf(workspace, pixelRunAt(finish, stepId, frame), size, space),
          ),
      ),

    /** The distribution of light in the picture at a point. */
    scopes: (number: number, finish: Finish, point: StrandPoint, frame: number, region?: Region) =>
      queue('scopes', number, (run) =>
        evaluate(
          { finish, point, frame, scale: smallScale, region },
          run,
          (p): Measured =>
            withRunWorkspace(run, (workspace) => {
              const seen = toLookAt(workspace, p);
              return { scopes: scopesOf(seen), light: lightHistogram(seen) };
            }),
        ),
      ),

    /** Luminance of the light that a step takes from, as far as its light mask lets it. */
    histogram: (number: number, finish: Finish, stepId: string, frame: number) =>
      queue('histogram', number, async (run): Promise<LightHistogram | undefined> => {
        const point = pointOfLight(finish, stepId);
        if (!point) return;
        const histogramOf = (p: Picture, mask?: Picture) =>
          withRunWorkspace(run, (workspace) => lightHistogram(toLookAt(workspace, p), mask));
        const mask = lightMaskOf(finish, stepId);
        return evaluate({ finish, point, frame, scale: 1 }, run, (p) =>
          mask
            ? evaluate({ finish, point: mask, frame, scale: 1 }, run, (m) =>
                withRunWorkspace(run, (workspace) => histogramOf(p, matteIn(workspace, m, mask))),
              )
            : histogramOf(p),
        );
      }),

    /** The distribution of the values that a key reads. */
    values: (
      number: number,
      finish: Finish,
      stepId: string,
      channel: RangeChannel,
      frame: number,
      slot?: string,
    ) =>
      queue('histogram', number, async (run): Promise<ValueHistogram | undefined> => {
        const point =
          slot === undefined ? pointBefore(finish, stepId) : findStep(finish, stepId)?.step.slots[slot];
        if (!point) return;
        return evaluate({ finish, point, frame, scale: 0.5 }, run, (p) =>
          withRunWorkspace(run, (workspace) => valueHistogram(toLookAt(workspace, p), channel)),
        );
      }),

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
    /**
     * Where a place of the scene is on each frame, by the camera in the files, and whether something is before it, or it lies outside the picture. The place
     * is what the position pass says under a pixel of a frame.
     */
    scenePlaces: (
      number: number,
      media: string,
      pass: string,
      at: { frame: number; x: number; y: number },
      frames: number[],
      progress: (done: number) => void,
    ) =>
      queue('middles', number, async (run): Promise<ScenePlaces> => {
        const point = { strand: 'main', after: 'head' };
        const finish = newFinish('positions', 'Positions', { type: 'pass', media, pass }, 'data');
        const read = (frame: number, x: number, y: number) =>
          evaluate({ finish, point, frame, scale: 1 }, run, (p): PlaceAt => {
            const [cx, cy] = [Math.round(x - 0.5), Math.round(y - 0.5)];
            const inside = cx >= 0 && cy >= 0 && cx < p.width && cy < p.height;
            const i = (cy * p.width + cx) * p.channels;
            const found = inside ? Array.from(p.data.subarray(i, i + 3)) : undefined;
            return { width: p.width, height: p.height, found };
          });
        const { found: place, ...size } = await read(at.frame, at.x + 0.5, at.y + 0.5);
        const isSurface = place?.every(Number.isFinite) && place.some((v) => v !== 0);
        if (!place || !isSurface) return { problem: 'nothing' };
        const places: SceneFrame[] = [];
        for (const [i, frame] of frames.entries()) {
          try {
            const { projection, camera } = await source.metadata(media, frame);
            if (!projection) return { problem: 'camera', frame };
            const seen = projected(projection, place, size);
            if (seen) {
              const { found } = await read(frame, size.width / 2 + seen.x, size.height / 2 - seen.y);
              places.push({ frame, ...seen, state: found ? stateOf(found, place, camera) : 'outside' });
            }
          } catch (error) {
            if (error instanceof Overtaken) throw error;
            // A frame that is not there tells nothing.
          }
          progress(i + 1);
        }
        return { place: [place[0], place[1], place[2]], places };
      }),
    /** Follows a square of the picture about a place, forwards and backwards, until it is lost or the frames end. */
    followPatch: (
      number: number,
      finish: Finish,
      point: StrandPoint,
      start: { frame: number; x: number; y: number },
      { side, reach, renewed }: { side: number; reach: number; renewed: boolean },
      { first, last }: { first: number; last: number },
      progress: (done: number) => void,
    ) =>
      queue('middles', number, async (run): Promise<Followed> => {
        const size = side + 2 * reach + 8;
        const around = (frame: number, x: number, y: number) =>
          evaluate({ finish, point, frame, scale: 1 }, run, (p) => ({
            gray: grayOf(p, Math.floor(x - size / 2), Math.floor(y - size / 2), size),
            isIn: x >= 0 && y >= 0 && x < p.width && y < p.height,
            middle: { x: p.width / 2, y: p.height / 2 },
          }));
        const begin = await around(start.frame, start.x, start.y);
        const { middle } = begin;
        const out: Followed = { places: [], lost: [] };
        const put = (frame: number, { x, y, confidence }: Located) =>
          out.places.push({ frame, x: x - middle.x, y: middle.y - y, confidence });
        put(start.frame, { ...start, confidence: 1 });
        for (const by of [1, -1]) {
          let template = templateAt(begin.gray, start.x, start.y, side);
          let [at, speed] = [
            { x: start.x, y: start.y },
            { x: 0, y: 0 },
          ];
          for (let frame = start.frame + by; frame >= first && frame <= last; frame += by) {
            const guess = { x: at.x + speed.x, y: at.y + speed.y };
            const next = await around(frame, guess.x, guess.y).catch((error) => {
              if (error instanceof Overtaken) throw error;
              return undefined;
            });
            const found = next?.isIn ? locate(template, next.gray, guess.x, guess.y, reach) : undefined;
            if (!found || !next || found.confidence < leastConfidence) {
              out.lost.push(frame);
              break;
            }
            put(frame, found);
            speed = { x: found.x - at.x, y: found.y - at.y };
            at = { x: found.x, y: found.y };
            if (renewed) template = templateAt(next.gray, found.x, found.y, side);
            progress(out.places.length);
          }
        }
        out.places.sort((a, b) => a.frame - b.frame);
        return out;
      }),
    /** Ends it: the frames that were not reported are left. */
    stopMiddles: (number: number) => queue('middles', number, async () => true),
    /** Likewise of the coverage. */
    stopCoverage: (number: number) => queue('coverage', number, async () => true),
  };
}
