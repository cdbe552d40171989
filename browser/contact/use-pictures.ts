import { useEffect, useMemo, useRef, useState } from 'react';
import type { ShotDetail } from '../../api/shots';
import type { Finish } from '../../core/finish/finish';
import { murmur3 } from '../../core/math/murmur3';
import type { Engine } from '../engine/engine';
import { mediaIndexOf } from '../session/use-shot-data';

/** Finished pictures of several shots, made by one engine one after the other. */

/** A picture that is wanted. `width` is how wide it has to be at least. */
export type Wanted = { shot: ShotDetail; finish: Finish; frame: number; width: number };
export type Made = { bitmap: ImageBitmap } | { problem: string };

const hashes = new WeakMap<object, string>();
/** A hash of what a document or the media of a shot say, worked out once for each. */
function hashOf(of: object, said: () => unknown): string {
  const known = hashes.get(of) ?? murmur3(JSON.stringify(said())).toString(36);
  hashes.set(of, known);
  return known;
}

/** What tells one picture from another. */
export const keyOf = ({ shot, finish, frame, width }: Wanted): string =>
  [
    shot.id,
    frame,
    scaleFor(shot.width, width),
    hashOf(finish, () => finish),
    hashOf(shot, () => mediaIndexOf(shot)),
  ].join('/');

/** The smallest draft that is as wide as that. */
const scaleFor = (full: number, width: number): number =>
  [0.125, 0.25, 0.5].find((s) => full * s >= width) ?? 1;

const view = {
  look: 'colour',
  stops: 0,
  gamma: 1,
  screen: { by: 'plain' },
  backing: 'black',
  marks: false,
} as const;

/** The finished picture of a shot on a frame, or why there is none. */
export async function finishedPicture(engine: Engine, { shot, finish, frame, width }: Wanted): Promise<Made> {
  try {
    await engine.setMedia(mediaIndexOf(shot));
    const request = { finish, point: { strand: finish.main, after: 'end' }, frame };
    const found = await engine.framePicture(
      { request, view, beside: {} },
      scaleFor(shot.width, width),
      false,
    );
    return found ? { bitmap: found.bitmap } : { problem: 'The engine was asked for something else.' };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** The pictures that there are of those that are wanted, by their keys. What is not wanted any more is let go. */
export function usePictures(
  engine: Engine | undefined,
  wanted: readonly Wanted[],
): ReadonlyMap<string, Made> {
  const [pictures, setPictures] = useState<ReadonlyMap<string, Made>>(new Map());
  const keys = useMemo(() => wanted.map(keyOf), [wanted]);
  const now = useRef({ keys, wanted });
  now.current = { keys, wanted };
  const busy = useRef(false);
  const known = useRef(new Map<string, Made>());
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wanted is asked for by its keys
  useEffect(() => {
    if (!engine || busy.current) return;
    busy.current = true;
    void (async () => {
      for (;;) {
        const { keys, wanted } = now.current;
        for (const [key, old] of known.current)
          if (!keys.includes(key)) {
            if ('bitmap' in old) old.bitmap.close();
            known.current.delete(key);
          }
        const next = keys.findIndex((k) => !known.current.has(k));
        setPictures(new Map(known.current));
        if (next < 0) break;
        known.current.set(keys[next], await finishedPicture(engine, wanted[next]));
      }
      busy.current = false;
    })();
  }, [engine, keys.join(' ')]);
  return pictures;
}
