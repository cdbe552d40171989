import { useEffect, useRef, useState } from 'react';
import type { Progress } from '../../core/evaluate/run';
import type { Shown } from '../engine/answers';
import { draftsBelow, expectedMillis } from '../engine/drafts';
import { type Look, onFrame } from '../engine/look-on';
import { useEngine } from '../engine/use-engine';
import { useShot } from '../session/store';

/** `progress` is there once it takes longer than a second; `stop` ends it. */
export type Showing = { shown?: Shown; problem?: string; busy: boolean; progress?: Progress; stop(): void };

/** Milliseconds after which one wants to know what is being done. */
const patience = 1000;

/**
 * The picture for the viewer: asked for anew whenever anything it depends on changes, a draft first where full takes long. Nothing is asked
 * for while it `rests`, as during play.
 */
export function useShown(look: Look, rests: boolean): Showing {
  const started = useEngine();
  const frame = useShot((s) => s.frame);
  const [state, set] = useState<Omit<Showing, 'stop'>>({ busy: true });
  const size = useShot((s) => s.size);
  /** What the full picture took last. */
  const lastFull = useRef(0);

  useEffect(() => {
    if (!started || rests) return;
    let current = true;
    const scales = [...draftsBelow(lastFull.current || expectedMillis(look.request.finish, size)), 1];
    set((s) => ({ ...s, busy: true, progress: undefined }));
    const began = performance.now();
    const told = (progress: Progress) => {
      if (current && performance.now() - began > patience) set((s) => (s.busy ? { ...s, progress } : s));
    };
    const ready = (shown: Shown) => {
      if (!current) return;
      // What came from the cache says nothing about how long it takes to compute.
      if (shown.scale === 1 && shown.millis > 25) lastFull.current = shown.millis;
      // Its problem, if it had one, is over.
      set((s) => ({ shown, busy: shown.scale !== 1, progress: shown.scale === 1 ? undefined : s.progress }));
    };
    started.engine.show(onFrame(look, frame), scales, ready, told).catch((error) => {
      if (current)
        set((s) => ({ ...s, problem: (error as Error).message, busy: false, progress: undefined }));
    });
    return () => {
      current = false;
    };
  }, [started, look, frame, rests, size]);
  const stop = () => {
    started?.engine.stopShowing().catch(() => {});
    set((s) => ({ ...s, busy: false, progress: undefined }));
  };
  return { ...state, stop };
}
