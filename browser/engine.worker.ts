import { expose, transfer } from 'comlink';
import { finiteRange, toDisplay, type View } from '../core/colour/display';
import { PictureCache } from '../core/evaluate/cache';
import type { Place, Request } from '../core/evaluate/plan';
import { evaluate, Overtaken } from '../core/evaluate/run';
import { type Finish, findStep } from '../core/finish/finish';
import type { Picture } from '../core/picture/picture';
import { scaleDown } from '../core/picture/scale';
import { addedShare, type LightHistogram, lightHistogram } from '../core/scopes/light';
import { type MediaIndex, passSource } from './pass-source';

/** The engine of one shot screen: the core, in a worker, over frames from the server. */
let media: MediaIndex = {};
const source = passSource(() => media);
const cache = new PictureCache(768 * 1024 * 1024);

/** Newest request of each purpose; older ones of the same purpose are overtaken. */
const newest = new Map<string, number>();

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

function begin(purpose: string) {
  const number = (newest.get(purpose) ?? 0) + 1;
  newest.set(purpose, number);
  const overtaken = () => newest.get(purpose) !== number;
  return (request: Request) => evaluate(request, { source, cache, overtaken, breathe });
}

export type Shown = {
  width: number;
  height: number;
  /** Linear RGBA. */
  data: Float32Array;
  /** sRGB for the canvas. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  millis: number;
  scale: number;
};
export type Thumbnail = {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  share?: number;
};

const isData = (finish: Finish, place: Place) =>
  finish.strands.find((s) => s.id === place.strand)?.kind === 'data';

/** `undefined` stands for "overtaken": the newer request will answer. */
async function unlessOvertaken<T>(work: () => Promise<T>): Promise<T | undefined> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Overtaken) return;
    throw error;
  }
}

const thumbnailWidth = 112;
/** Thumbnails are worked out small; the picture in the viewer comes first. */
const thumbnailScale = 0.25;

const engine = {
  setMedia(index: MediaIndex) {
    media = index;
  },

  /** The picture at a place, for the viewer. */
  show: (request: Request, view: View) =>
    unlessOvertaken(async () => {
      const began = performance.now();
      const picture = await begin('viewer')(request);
      const range =
        isData(request.finish, request.place) && view.look !== 'alpha' ? finiteRange(picture) : undefined;
      const pixels = toDisplay(picture, { ...view, range });
      const data = picture.data.slice();
      const { width, height } = picture;
      const shown: Shown = {
        width,
        height,
        data,
        pixels,
        millis: performance.now() - began,
        scale: request.scale,
      };
      return transfer(shown, [data.buffer, pixels.buffer]);
    }),

  /** Luminance of the light that a step takes from. */
  histogram: (finish: Finish, stepId: string, frame: number) =>
    unlessOvertaken(async (): Promise<LightHistogram | undefined> => {
      const found = findStep(finish, stepId);
      if (!found) return;
      const { strand, index, step } = found;
      const before = { strand: strand.id, after: index > 0 ? strand.steps[index - 1].id : 'head' };
      const picture = await begin('histogram')({
        finish,
        place: step.slots.light ?? before,
        frame,
        scale: 1,
      });
      return lightHistogram(picture);
    }),

  /** Small pictures after the head and after each step of every strand, with the share of light each step adds. */
  thumbnails: (finish: Finish, frame: number) =>
    unlessOvertaken(async () => {
      const render = begin('thumbnails');
      const out: Record<string, Thumbnail> = {};
      const put = (id: string, picture: Picture, data: boolean, share?: number) => {
        const small = scaleDown(picture, thumbnailWidth / picture.width, data ? 'nearest' : 'mean');
        const pixels = toDisplay(small, {
          look: 'colour',
          stops: 0,
          range: data ? finiteRange(small) : undefined,
        });
        out[id] = { width: small.width, height: small.height, pixels, share };
      };
      for (const strand of finish.strands) {
        const data = strand.kind === 'data';
        let before = await render({
          finish,
          place: { strand: strand.id, after: 'head' },
          frame,
          scale: thumbnailScale,
        });
        put(strand.id, before, data);
        for (const step of strand.steps) {
          const after = await render({
            finish,
            place: { strand: strand.id, after: step.id },
            frame,
            scale: thumbnailScale,
          });
          put(step.id, after, data, addedShare(before, after));
          before = after;
        }
      }
      return out;
    }),
};

export type Engine = typeof engine;
expose(engine);
