import * as v from 'valibot';
import { createStore, type StoreApi } from 'zustand';
import { persist } from 'zustand/middleware';
import { loops } from './clock';

/** How a finish is played. Kept in this browser, for each finish. */

export const speeds = { '1': 'Full rate', '0.5': 'Half', '0.25': 'Quarter' } as const;
export type Speed = keyof typeof speeds;

const keys = <T extends object>(of: T) => Object.keys(of) as (keyof T & string)[];
const frame = v.pipe(v.number(), v.integer());
const kept = v.object({
  loop: v.picklist(keys(loops)),
  speed: v.picklist(keys(speeds)),
  /** Play begins when all frames are ready; otherwise it shows what is ready by then. */
  waits: v.boolean(),
  /** First and last frame that are played; of the shot where there is none. */
  in: v.optional(frame),
  out: v.optional(frame),
  /** Frames that were marked, in order. */
  marks: v.array(frame),
});
export type PlaySettings = v.InferOutput<typeof kept>;
const usual: PlaySettings = { loop: 'loop', speed: '1', waits: false, marks: [] };

export type PlaySettingsStore = StoreApi<PlaySettings>;

export const playSettings = (finish: number): PlaySettingsStore =>
  createStore<PlaySettings>()(
    persist(() => usual, {
      name: `zafiro-play-${finish}`,
      // What an older program kept may be no settings of this one.
      merge: (found, now) => {
        const read = v.safeParse(kept, found);
        return read.success ? read.output : now;
      },
    }),
  );

/** The in comes before the out: the one that is set pushes the other away. */
export function withIn(settings: PlaySettings, frame: number | undefined): Partial<PlaySettings> {
  return {
    in: frame,
    out: frame !== undefined && (settings.out ?? frame) < frame ? undefined : settings.out,
  };
}
export function withOut(settings: PlaySettings, frame: number | undefined): Partial<PlaySettings> {
  return { out: frame, in: frame !== undefined && (settings.in ?? frame) > frame ? undefined : settings.in };
}

export const withMark = ({ marks }: PlaySettings, frame: number): Partial<PlaySettings> => ({
  marks: marks.includes(frame) ? marks.filter((f) => f !== frame) : [...marks, frame].sort((a, b) => a - b),
});

/** The frames between in and out. */
export const spanOf = (settings: PlaySettings, first: number, last: number) => ({
  first: Math.max(first, Math.min(last, settings.in ?? first)),
  last: Math.min(last, Math.max(first, settings.out ?? last)),
});
