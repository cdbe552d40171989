import { useEffect, useRef, useState } from 'react';
import { useShot } from '../session/store';
import type { Shown } from './answers';
import { draftsBelow } from './drafts';
import { type Look, onFrame } from './look-on';
import { useEngine } from './use-engine';

export type Showing = { shown?: Shown; problem?: string; busy: boolean };

/**
 * The picture for the viewer: asked for anew whenever anything it depends on changes, a draft first where full takes long. Nothing is asked
 * for while it `rests`, as during play.
 */
export function useShown(look: Look, rests: boolean): Showing {
  const started = useEngine();
  const frame = useShot((s) => s.frame);
  const [state, set] = useState<Showing>({ busy: true });
  const lastFull = useRef(0);

  useEffect(() => {
    if (!started || rests) return;
    let current = true;
    const scales = [...draftsBelow(lastFull.current), 1];
    set((s) => ({ ...s, busy: true }));
    const ready = (shown: Shown) => {
      if (!current) return;
      // What came from the cache says nothing about how long it takes to compute.
      if (shown.scale === 1 && shown.millis > 25) lastFull.current = shown.millis;
      // Its problem, if it had one, is over.
      set({ shown, busy: shown.scale !== 1 });
    };
    started.engine.show(onFrame(look, frame), scales, ready).catch((error) => {
      if (current) set((s) => ({ ...s, problem: (error as Error).message, busy: false }));
    });
    return () => {
      current = false;
    };
  }, [started, look, frame, rests]);
  return state;
}
