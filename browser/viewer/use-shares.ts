import { useEffect, useRef, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import type { Tap } from '@/core/finish/finish';
import { useEngine } from '../engine/use-engine';
import { useShot } from '../session/store';

/** In longer shots some frames are skipped. */
const mostFrames = 60;
/** An edit is seldom the last. */
const restMillis = 1200;

export type Shares = Readonly<Record<number, number>>;

/** Frames of a shot that tell the course of something. */
function framesOf({ first, last }: ShotDetail): number[] {
  const every = Math.ceil((last - first + 1) / mostFrames);
  return Array.from({ length: Math.floor((last - first) / every) + 1 }, (_, i) => first + i * every);
}

/**
 * Of the frames of a shot the share that a matte covers, or the share of its light that a step adds, as they become known; anew after each edit. Nothing
 * is measured while there is no place.
 */
export function useShares(place: Tap | undefined, shot: ShotDetail) {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const [shares, setShares] = useState<Shares>({});
  /** How far it is, while it is worked out. */
  const [progress, setProgress] = useState<{ done: number; of: number }>();
  const stopped = useRef(false);
  const { strand, after, as } = place ?? {};
  useEffect(() => {
    if (!started || strand === undefined || after === undefined) return;
    let current = true;
    stopped.current = false;
    const frames = framesOf(shot);
    const measure = () => {
      const fresh: Record<number, number> = {};
      let over = false;
      started.engine
        .coverage(finish, { strand, after, as }, frames, (f, share) => {
          fresh[f] = share;
          if (!current) return;
          setShares((known) => ({ ...(Object.keys(fresh).length === 1 ? {} : known), ...fresh }));
          // The last words of a job may come after its result.
          if (!over) setProgress({ done: Object.keys(fresh).length, of: frames.length });
        })
        .catch(() => true)
        .then((answer) => {
          over = true;
          if (!current) return;
          setProgress(undefined);
          // Another measurement came first: what was known by then is not measured again.
          if (answer === undefined && !stopped.current) timer = setTimeout(measure, restMillis);
        });
    };
    let timer = setTimeout(measure, restMillis);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [started, finish, strand, after, as, shot]);
  const stop = () => {
    stopped.current = true;
    started?.engine.stopCoverage().catch(() => {});
  };
  return { shares, progress, stop };
}
