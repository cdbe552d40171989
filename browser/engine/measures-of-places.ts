import type { StrandPoint } from '../../core/evaluate/plan/node';
import { evaluate, type FrameSource, Overtaken } from '../../core/evaluate/run';
import { newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { projected } from '../../core/formats/camera';
import { grayOf, type Located, locate, templateAt } from '../../core/scopes/follow';
import type { Queue } from './queue';

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

/** Where something is on each frame: a place of the scene, or a patch of the picture. */
export const measuresOfPlaces = (queue: Queue, source: FrameSource) => ({
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
});
