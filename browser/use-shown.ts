import { useEffect, useRef, useState } from 'react';
import type { Place } from '../core/evaluate/plan';
import { findStep } from '../core/finish/finish';
import type { Shown } from './engine.worker';
import { previewed, type ShotState, useShot } from './shot-store';
import { useEngine } from './use-engine';

/** The sizes shown on the way to the full picture, by how long that took last: small changes show at once. */
const draftsBelow = (millis: number): number[] =>
  millis > 1200 ? [0.125, 0.25, 0.5] : millis > 400 ? [0.25, 0.5] : millis > 70 ? [0.5] : [];

/** The place that the viewer looks at. */
export function placeShown(s: Pick<ShotState, 'finish' | 'shows' | 'selected' | 'before'>): Place {
  const main = { strand: s.finish.main, after: 'end' };
  if (s.shows === 'finished') return s.before ? { ...main, after: 'head' } : main;
  const found = findStep(s.finish, s.selected ?? '');
  if (!found)
    return { strand: s.finish.strands.find((x) => x.id === s.selected)?.id ?? main.strand, after: 'head' };
  const { strand, index } = found;
  const after = s.before ? (index > 0 ? strand.steps[index - 1].id : 'head') : found.step.id;
  return { strand: strand.id, after };
}

export type Showing = { shown?: Shown; problem?: string; busy: boolean };

/** The picture for the viewer: asked for anew whenever anything it depends on changes, a draft first where full takes long. */
export function useShown(): Showing {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const preview = useShot((s) => s.preview);
  const frame = useShot((s) => s.frame);
  const look = useShot((s) => s.look);
  const stops = useShot((s) => s.stops);
  const strand = useShot((s) => placeShown(s).strand);
  const after = useShot((s) => placeShown(s).after);
  const [state, set] = useState<Showing>({ busy: true });
  const lastFull = useRef(0);

  useEffect(() => {
    if (!started) return;
    let current = true;
    const doc = previewed({ finish, preview });
    const scales = [...draftsBelow(lastFull.current), 1];
    set((s) => ({ ...s, busy: true }));
    const ready = (shown: Shown) => {
      if (!current) return;
      // What came from the cache says nothing about how long it takes to compute.
      if (shown.scale === 1 && shown.millis > 25) lastFull.current = shown.millis;
      set({ shown, busy: shown.scale !== 1 });
    };
    started.engine
      .show({ finish: doc, place: { strand, after }, frame }, scales, { look, stops }, ready)
      .catch((error) => {
        if (current) set((s) => ({ ...s, problem: (error as Error).message, busy: false }));
      });
    return () => {
      current = false;
    };
  }, [started, finish, preview, frame, look, stops, strand, after]);
  return state;
}
