import { planOf } from '../../core/evaluate/plan/plan';
import { type FrameSource, fetchAhead, Overtaken, type Run } from '../../core/evaluate/run';
import { toDisplay } from '../../core/kernels/display';
import { shrink } from '../../core/kernels/sample';
import { draftSize } from '../../core/picture/scale';
import type { FramePicture } from './answers';
import { type FrameKeys, keysOfLook, type Look, lookOn, onFrame } from './look-on';
import type { Queue } from './queue';
import type { Transfer } from './show';

/** Width of the small pictures of finished frames, in pixels. */
const smallWidth = 96;
/** Frames that are planned between two looks at what has come in. */
const plannedTogether = 16;

/** Pixels as the screen draws them without further work. They are opaque. */
const bitmapOf = (pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number) =>
  createImageBitmap(new ImageData(pixels, width, height));

/** Pictures of frames made in advance, so that they can be played. */
export function framesAhead(queue: Queue, source: FrameSource, transfer: Transfer) {
  const hasCome = async ({ breathe, overtaken }: Run) => {
    await breathe?.();
    if (overtaken?.()) throw new Overtaken();
  };
  return {
    /** Keys of a look on frames, and of the place alone that it is of. No key where a frame is not there. */
    frameKeys: (number: number, look: Look, frames: readonly number[], scale: number) =>
      queue('keys', number, async (run): Promise<(FrameKeys | undefined)[]> => {
        const keys: (FrameKeys | undefined)[] = [];
        for (const frame of frames) {
          try {
            keys.push(keysOfLook(onFrame(look, frame), scale, source.identity));
          } catch {
            keys.push(undefined);
          }
          if (keys.length % plannedTogether === 0) await hasCome(run);
        }
        return keys;
      }),
    /**
     * The picture of a look on its frame at a scale, ready for the screen. `small` asks for a small picture of it besides. What the frame
     * `next` needs is fetched meanwhile.
     */
    framePicture: (number: number, look: Look, scale: number, small: boolean, next?: number) =>
      queue('ready', number, async (run): Promise<FramePicture> => {
        const began = performance.now();
        if (next !== undefined) {
          try {
            fetchAhead(planOf({ ...onFrame(look, next).request, scale }, source.identity), run);
          } catch {
            // A frame that is not there needs nothing.
          }
        }
        const made = await lookOn(run, look, scale, (seen, workspace) => {
          const { picture, pixels, other, region, range } = seen;
          const { width, height } = picture;
          const by = Math.min(1, smallWidth / width);
          const tiny = small && shrink(workspace, seen.seen, by);
          const thumbnail = tiny && {
            ...draftSize(width, height, by),
            pixels: toDisplay(workspace, tiny, { look: 'colour', stops: 0 }),
          };
          return { width, height, pixels, other, region, range, thumbnail: thumbnail || undefined };
        });
        const { width, height, pixels, other, region, range, thumbnail } = made;
        const bitmap = await bitmapOf(pixels, width, height);
        const second = other && (await bitmapOf(other, width, height));
        const { frame } = look.request;
        const millis = performance.now() - began;
        return transfer({ frame, width, height, scale, region, range, millis, bitmap, second, thumbnail }, [
          bitmap,
          ...(second ? [second] : []),
          ...(thumbnail ? [thumbnail.pixels.buffer] : []),
        ]);
      }),
    /** Ends what is being made for frames ahead. */
    dropFrames: (number: number) => queue('ready', number, async () => true),
  };
}
