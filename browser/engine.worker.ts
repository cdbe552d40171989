import { expose, transfer } from 'comlink';
import type { Facts } from '../core/advice/advice';
import { PictureCache } from '../core/evaluate/cache';
import { type Place, planOf, type Request, regionGiven } from '../core/evaluate/plan';
import { evaluate, Overtaken, type Run } from '../core/evaluate/run';
import { type Finish, findStep, headTaps, passesUsed, placeAbove, type Tap } from '../core/finish/finish';
import { kindAt, kindsAlong } from '../core/finish/flow';
import { type Desk, openDesk } from '../core/kernels/desk';
import { toDisplay } from '../core/kernels/display';
import type { BandChannel } from '../core/kernels/key';
import { toLookAt } from '../core/kernels/plane';
import { matteOf } from '../core/kernels/point';
import { pickCentres, shrink } from '../core/kernels/sample';
import type { Picture } from '../core/picture/picture';
import type { Region } from '../core/picture/region';
import {
  addedShare,
  finiteRange,
  type LightHistogram,
  lightHistogram,
  pixelShares,
} from '../core/scopes/light';
import {
  coveredShare,
  difference,
  type Looking,
  lookAt,
  type MatteLook,
  showMatte,
} from '../core/scopes/looking';
import { type ValueHistogram, valueHistogram } from '../core/scopes/values';
import { type Scopes, scopesOf } from '../core/scopes/waveform';
import { stepSpec } from '../core/steps/registry';
import { browserMachine } from './machine';
import { type MediaIndex, passSource } from './pass-source';
import {
  type Counters,
  finish as finished,
  isOvertaken,
  learn,
  mustYield,
  newCounters,
  type Purpose,
  purposes,
} from './requests';

/** The engine of one shot screen: the core on its machine, over frames from the server; one job at a time, the most urgent first. */
let media: MediaIndex = {};
let counters: Counters = newCounters();
const source = passSource(() => media);

type Job = { purpose: Purpose; number: number; run(): Promise<void>; drop(): void };
const waiting: Job[] = [];
let current: Job | undefined;

const isStopped = () =>
  current !== undefined &&
  (isOvertaken(counters, current.purpose, current.number) || mustYield(counters, current.purpose));

const machine = browserMachine(isStopped, self.name === 'alone' || !self.crossOriginIsolated);
const cache = machine.then(({ arena }) => new PictureCache(arena, arena.memory.buffer.byteLength * 0.6));

/** Ends after every message that has already come in. */
const breathe = () =>
  new Promise<void>((done) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      done();
    };
    port2.postMessage(0);
  });

/** Works through the jobs, the most urgent first; one that had to yield begins anew later, with what the cache kept. */
async function workOff() {
  if (current) return;
  for (;;) {
    waiting.sort((a, b) => purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose));
    current = waiting.shift();
    if (!current) return;
    const job: Job = current;
    if (isOvertaken(counters, job.purpose, job.number)) job.drop();
    else {
      try {
        await job.run();
      } catch (error) {
        if (!(error instanceof Overtaken)) throw error;
        if (isOvertaken(counters, job.purpose, job.number)) job.drop();
        else {
          waiting.push(job);
          current = undefined;
          await breathe();
          continue;
        }
      }
    }
    finished(counters, job.purpose, job.number);
    current = undefined;
  }
}

/** Queues work; `undefined` stands for "overtaken": the newer request will answer. */
function queue<T>(purpose: Purpose, number: number, work: (run: Run) => Promise<T>): Promise<T | undefined> {
  learn(counters, purpose, number);
  return new Promise((resolve, reject) => {
    const run = async () => {
      try {
        resolve(
          await work({ machine: await machine, source, cache: await cache, overtaken: isStopped, breathe }),
        );
      } catch (error) {
        if (error instanceof Overtaken) throw error;
        reject(error);
      }
    };
    waiting.push({ purpose, number, run, drop: () => resolve(undefined) });
    workOff();
  });
}

export type Shown = {
  width: number;
  height: number;
  /** Linear RGBA. */
  data: Float32Array;
  /** sRGB for the canvas. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** The other picture of a comparison, as large. */
  other?: Uint8ClampedArray<ArrayBuffer>;
  millis: number;
  scale: number;
  /** The part of the draft that this is, if not all of it. */
  region?: Region;
};

/** What the viewer compares with: a place of this document or of another version, or a picture that was pinned. */
export type Against = {
  finish: Finish;
  place: Place;
  frame: number;
  /** Shows the difference, this many times, in place of both. */
  difference?: number;
};

/** What is shown beside the picture itself: another one, or a matte as a tint over it. */
export type Beside = { against?: Against; matte?: Tap; matteLook?: MatteLook };

/** One place on a pixel's way: its value after it. */
export type Stop = { strand: string; step?: string; rgba: [number, number, number, number] };
/** What the scopes show. */
export type Measured = { scopes: Scopes; light: LightHistogram };

/** The small pictures of a finish on a frame, and what was noticed in them. */
export type Noticed = { thumbnails: Record<string, Thumbnail> } & Pick<
  Facts,
  'broken' | 'emptyMattes' | 'beyondAlpha'
>;

export type Thumbnail = {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Of the light, what a light step added. */
  share?: number;
  /** Of the frame, what a matte covers. */
  covers?: number;
};

/** The neighbours of the playhead, once it rests. */
let resting: ReturnType<typeof setTimeout> | undefined;
function fetchAhead(finish: Finish, frame: number) {
  clearTimeout(resting);
  resting = setTimeout(async () => {
    for (const next of [frame + 1, frame - 1])
      for (const head of finish.strands.flatMap((s) => passesUsed(s.head))) await source.ahead(head, next);
  }, 300);
}

/** Does `work` at a desk of its own, which is cleared. */
function withDesk<T>(run: Run, work: (desk: Desk) => T): T {
  const desk = openDesk(run.machine);
  try {
    return work(desk);
  } finally {
    desk.clear();
  }
}

/** A matte as it is; a picture read as one. What is made lies on the desk. */
const matteIn = (desk: Desk, p: Picture, { as = 'luminance' }: Pick<Tap, 'as'>) =>
  p.channels === 1 ? p : matteOf(desk, p, as);
const isData = (finish: Finish, place: Place) => kindAt(finish, place.strand, place.after) === 'data';
const thumbnailWidth = 112;
const thumbnailScale = 0.25;

/** What comes to a step. */
function placeBefore(finish: Finish, stepId: string): Place | undefined {
  const found = findStep(finish, stepId);
  if (!found) return;
  const { strand, index } = found;
  return { strand: strand.id, after: placeAbove(strand, index) };
}

const engine = {
  /** Where the page counts its requests. */
  setCounters(shared: Counters) {
    counters = shared;
  },
  setMedia(index: MediaIndex) {
    media = index;
  },

  /**
   * The picture at a place, for the viewer: at each of `scales` in turn, handed over as soon as it is ready. Resolves when the
   * last is shown, or when a newer request has overtaken it.
   */
  show: (
    number: number,
    request: Omit<Request, 'scale'>,
    scales: number[],
    view: Looking,
    ready: (shown: Shown) => void,
    { against, matte, matteLook = 'tint' }: Beside = {},
  ) =>
    queue('viewer', number, async (run) => {
      // What is here whole already needs no draft before it.
      const whole = planOf({ ...request, scale: 1 }, source.identity).key;
      for (const scale of run.cache.has(whole) ? [scales[scales.length - 1]] : scales) {
        const began = performance.now();
        // A copy: the matte's picture may be let go before the picture is shown.
        const tint =
          matte &&
          (await evaluate({ ...request, place: matte, scale }, run, (p) =>
            withDesk(run, (desk) => matteIn(desk, p, matte).data.slice()),
          ));
        const ranged = (of: { finish: Finish; place: Place }, picture: Picture) =>
          isData(of.finish, of.place) && view.look !== 'alpha' ? finiteRange(picture) : undefined;
        const show = (picture: Picture, desk: Desk, other?: Uint8ClampedArray<ArrayBuffer>) => {
          const seen = toLookAt(desk, picture);
          const pixels = lookAt(desk, seen, { ...view, range: ranged(request, picture) });
          const { width, height } = picture;
          if (tint) showMatte(pixels, { width, data: tint }, matteLook);
          const data = seen.data.slice();
          const millis = performance.now() - began;
          const region = regionGiven({ region: request.region, scale });
          const shown: Shown = { width, height, data, pixels, other, millis, scale, region };
          ready(transfer(shown, [data.buffer, pixels.buffer, ...(other ? [other.buffer] : [])]));
        };
        const whole = { ...request, scale };
        if (!against) {
          await evaluate(whole, run, (picture) => withDesk(run, (desk) => show(picture, desk)));
          continue;
        }
        const { finish, place, frame } = against;
        const second = { finish, place, frame, scale, region: request.region };
        await evaluate(whole, run, (picture) =>
          evaluate(second, run, (compared) =>
            withDesk(run, (desk) => {
              if (compared.width !== picture.width || compared.height !== picture.height)
                throw new Error('These two have different sizes and cannot be compared.');
              const other = toLookAt(desk, compared);
              if (against.difference)
                show(difference(desk, toLookAt(desk, picture), other, against.difference), desk);
              else show(picture, desk, lookAt(desk, other, { ...view, range: ranged(against, compared) }));
            }),
          ),
        );
      }
      fetchAhead(request.finish, request.frame);
      return true;
    }),

  /** The value of one pixel after every place on its way to the end of a strand, through what its steps take too. */
  journey: (number: number, finish: Finish, strandId: string, frame: number, x: number, y: number) =>
    queue('journey', number, async (run): Promise<Stop[]> => {
      const stops: Stop[] = [];
      const seen = new Set<string>();
      const along = async (id: string, until: string) => {
        const strand = finish.strands.find((s) => s.id === id);
        if (!strand || seen.has(`${id}:${until}`)) return;
        seen.add(`${id}:${until}`);
        for (const tap of headTaps(strand.head)) await along(tap.strand, tap.after);
        const places = ['head', ...strand.steps.map((s) => s.id)];
        const last = until === 'end' ? places.length : places.indexOf(until) + 1;
        for (const after of places.slice(0, last)) {
          const step = strand.steps.find((s) => s.id === after);
          for (const tap of Object.values(step && !step.bypass ? step.slots : {}))
            if (tap.strand !== id) await along(tap.strand, tap.after);
          await evaluate({ finish, place: { strand: id, after }, frame, scale: 1 }, run, (p) => {
            const at = Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x);
            const [r, g, b, a] =
              p.channels === 1 ? [...Array(3).fill(p.data[at]), 1] : p.data.subarray(at * 4, at * 4 + 4);
            stops.push({ strand: id, step: step?.id, rgba: [r, g, b, a] });
          });
        }
      };
      await along(strandId, 'end');
      return stops;
    }),

  /** The numbers of one pixel that come to a step. */
  pixel: (number: number, finish: Finish, stepId: string, frame: number, x: number, y: number) =>
    queue('journey', number, async (run): Promise<number[] | undefined> => {
      const place = placeBefore(finish, stepId);
      if (!place) return;
      return evaluate({ finish, place, frame, scale: 1 }, run, (p) => {
        const at = (Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x)) * p.channels;
        return Array.from(p.data.subarray(at, at + p.channels));
      });
    }),

  /** How far the passes of a mix, as they were rendered, are from their beauty, by channel: on average, and at the most. */
  residual: (number: number, finish: Finish, strandId: string, frame: number) =>
    queue('histogram', number, async (run): Promise<{ mean: number; most: number } | undefined> => {
      const strand = finish.strands.find((s) => s.id === strandId);
      if (strand?.head.type !== 'mix' || strand.head.beauty === undefined) return;
      const passes = strand.head.passes.map(({ pass }) => ({ pass, gain: 1 }));
      const head = { ...strand.head, passes, show: 'residual' as const };
      const shown = { ...finish, strands: finish.strands.map((s) => (s === strand ? { ...s, head } : s)) };
      return evaluate(
        { finish: shown, place: { strand: strandId, after: 'head' }, frame, scale: 1 },
        run,
        (p) => {
          let [sum, most] = [0, 0];
          for (let i = 0; i < p.data.length; i++) {
            if (i % 4 === 3) continue;
            const off = Math.abs(p.data[i]);
            sum += off;
            if (off > most) most = off;
          }
          return { mean: sum / (p.data.length * 0.75), most };
        },
      );
    }),

  /** How light lies in the picture at a place. */
  scopes: (number: number, finish: Finish, place: Place, frame: number) =>
    queue('scopes', number, (run) =>
      evaluate(
        { finish, place, frame, scale: thumbnailScale },
        run,
        (p): Measured =>
          withDesk(run, (desk) => {
            const seen = toLookAt(desk, p);
            return { scopes: scopesOf(seen), light: lightHistogram(seen) };
          }),
      ),
    ),

  /** Luminance of the light that a step takes from. */
  histogram: (number: number, finish: Finish, stepId: string, frame: number) =>
    queue('histogram', number, async (run): Promise<LightHistogram | undefined> => {
      const place = findStep(finish, stepId)?.step.slots.light ?? placeBefore(finish, stepId);
      if (!place) return;
      return evaluate({ finish, place, frame, scale: 1 }, run, (p) =>
        withDesk(run, (desk) => lightHistogram(toLookAt(desk, p))),
      );
    }),

  /** How the values lie that a key reads. */
  values: (
    number: number,
    finish: Finish,
    stepId: string,
    channel: BandChannel,
    frame: number,
    slot?: string,
  ) =>
    queue('histogram', number, async (run): Promise<ValueHistogram | undefined> => {
      const place =
        slot === undefined ? placeBefore(finish, stepId) : findStep(finish, stepId)?.step.slots[slot];
      if (!place) return;
      return evaluate({ finish, place, frame, scale: 0.5 }, run, (p) =>
        withDesk(run, (desk) => valueHistogram(toLookAt(desk, p), channel)),
      );
    }),

  /**
   * Of each frame the share that a matte covers, or the share of its light that a step adds, told frame by frame; what cannot be had
   * is left out.
   */
  coverage: (
    number: number,
    finish: Finish,
    place: Tap,
    frames: number[],
    told: (frame: number, share: number) => void,
  ) =>
    queue('coverage', number, async (run) => {
      const carries = kindAt(finish, place.strand, place.after);
      const before = placeBefore(finish, place.after);
      for (const frame of frames) {
        try {
          const at = <T>(p: Place, use: (picture: Picture) => T | Promise<T>) =>
            evaluate({ finish, place: p, frame, scale: thumbnailScale }, run, use);
          if (carries !== 'picture' || place.as)
            await at(place, (p) => {
              told(
                frame,
                withDesk(run, (desk) => coveredShare(matteIn(desk, p, place))),
              );
            });
          else if (before)
            await at(before, (b) =>
              at(place, (p) => {
                told(frame, addedShare(b, p));
              }),
            );
        } catch (error) {
          if (error instanceof Overtaken) throw error;
        }
      }
      return true;
    }),

  /** Small pictures after the head and after each step of every strand, and what advice asks of them. */
  thumbnails: (number: number, finish: Finish, frame: number) =>
    queue('thumbnails', number, async (run): Promise<Noticed> => {
      const out: Record<string, Thumbnail> = {};
      const broken: Record<string, number> = {};
      const emptyMattes: string[] = [];
      let beyondAlpha = 0;
      const at = <T>(strand: string, after: string, use: (p: Picture) => T | Promise<T>) =>
        evaluate({ finish, place: { strand, after }, frame, scale: thumbnailScale }, run, use);
      const lastOf = new Map(finish.strands.map((s) => [s.id, s.steps.at(-1)?.id]));
      const put = (id: string, shown: Picture, data: boolean, share?: number) => {
        const desk = openDesk(run.machine);
        try {
          const covers = shown.channels === 1 ? coveredShare(shown) : undefined;
          const picture = toLookAt(desk, shown);
          const told = pixelShares(picture);
          broken[id] = data ? told.noNumber : told.broken;
          if (id === (lastOf.get(finish.main) ?? finish.main)) beyondAlpha = told.beyondAlpha;
          const small = (data ? pickCentres : shrink)(
            desk,
            picture,
            Math.min(1, thumbnailWidth / picture.width),
          );
          const pixels = toDisplay(desk, small, {
            look: 'colour',
            stops: 0,
            range: data ? finiteRange(small) : undefined,
          });
          out[id] = { width: small.width, height: small.height, pixels, share, covers };
        } finally {
          desk.clear();
        }
      };
      for (const strand of finish.strands) {
        for (const step of strand.steps) {
          for (const [slot, tap] of Object.entries(step.slots)) {
            if (stepSpec(step.type)?.slots[slot]?.kind !== 'matte') continue;
            await at(tap.strand, tap.after, (p) => {
              const covers = withDesk(run, (desk) => coveredShare(matteIn(desk, p, tap)));
              if (covers === 0) emptyMattes.push(`${step.id}/${slot}`);
            });
          }
        }
        const kinds = kindsAlong(finish, strand);
        let before = await at(strand.id, 'head', (p) => {
          put(strand.id, p, kinds[0] === 'data');
          return p.data.slice();
        });
        for (const [i, step] of strand.steps.entries()) {
          before = await at(strand.id, step.id, (p) => {
            const share = kinds[i] === 'picture' && kinds[i + 1] === 'picture';
            put(step.id, p, kinds[i + 1] === 'data', share ? addedShare({ data: before }, p) : undefined);
            return p.data.slice();
          });
        }
      }
      return { thumbnails: out, broken, emptyMattes, beyondAlpha };
    }),
};

export type Engine = typeof engine;
expose(engine);
