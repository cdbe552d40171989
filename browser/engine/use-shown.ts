import { useEffect, useRef, useState } from 'react';
import type { StrandPoint } from '../../core/evaluate/plan';
import { type Finish, findStep, pointAbove, type Tap } from '../../core/finish/finish';
import { kindAt } from '../../core/finish/flow';
import { previewed, type ShotState, useShot } from '../session/store';
import { useVersions, type Versions } from '../session/versions';
import type { Against, Shown } from './answers';
import { useEngine } from './use-engine';

/** The sizes shown on the way to the full picture, by how long that took last: small changes show at once. */
const draftsBelow = (millis: number): number[] =>
  millis > 1200 ? [0.125, 0.25, 0.5] : millis > 400 ? [0.25, 0.5] : millis > 70 ? [0.5] : [];

/** The place that the viewer looks at. */
export function shownPoint(s: Pick<ShotState, 'finish' | 'shows' | 'selected' | 'before'>): StrandPoint {
  const main = { strand: s.finish.main, after: 'end' };
  if (s.shows === 'finished') return s.before ? { ...main, after: 'head' } : main;
  const found = findStep(s.finish, s.selected ?? '');
  if (!found) {
    // What was selected may be gone, as after an undo.
    const strand = s.finish.strands.find((x) => x.id === s.selected);
    return strand ? { strand: strand.id, after: 'head' } : main;
  }
  const { strand, index } = found;
  const after = s.before ? pointAbove(strand, index) : found.step.id;
  return { strand: strand.id, after };
}

const meant = new WeakMap<Finish, Map<string, Tap | undefined>>();

/** The matte that the selected step takes, or that the selected place carries; the same object for the same document. */
export function matteMeant({
  finish,
  selected = '',
}: Pick<ShotState, 'finish' | 'selected'>): Tap | undefined {
  const known = meant.get(finish) ?? new Map<string, Tap | undefined>();
  meant.set(finish, known);
  if (known.has(selected)) return known.get(selected);
  const found = findStep(finish, selected);
  const strand = found?.strand ?? finish.strands.find((s) => s.id === selected);
  const point = strand && { strand: strand.id, after: found?.step.id ?? 'head' };
  const carries = point && kindAt(finish, point.strand, point.after) === 'matte';
  const tap = found?.step.slots.mask ?? (carries ? point : undefined);
  known.set(selected, tap);
  return tap;
}

/** The request behind each choice of a comparison. */
function comparedWith(
  what: string,
  doc: Finish,
  frame: number,
  versions: Versions,
  still: ShotState['still'],
): Against | undefined {
  const [type, ...parts] = what.split(':');
  if (type === 'point') {
    const [strand, after] = parts;
    const there = doc.strands.find((s) => s.id === strand);
    const has = after === 'head' || after === 'end' || there?.steps.some((s) => s.id === after);
    return there && has ? { finish: doc, point: { strand, after }, frame } : undefined;
  }
  if (type === 'version') {
    const finish = versions.documents[Number(parts[0])];
    return finish && { finish, point: { strand: finish.main, after: 'end' }, frame };
  }
  if (type === 'still') return still;
  return { finish: doc, point: { strand: doc.main, after: 'head' }, frame };
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
  const gamma = useShot((s) => s.gamma);
  const backing = useShot((s) => s.backing);
  const marks = useShot((s) => s.marks);
  const range = useShot((s) => s.dataRange);
  const mode = useShot((s) => s.compare.mode);
  const other = useShot((s) => s.compare.with);
  const gain = useShot((s) => s.compare.gain);
  const strand = useShot((s) => shownPoint(s).strand);
  const after = useShot((s) => shownPoint(s).after);
  const still = useShot((s) => s.still);
  const matteLook = useShot((s) => s.matteLook);
  const region = useShot((s) => s.region);
  const full = useShot((s) => s.size);
  const matteOf = useShot((s) => (s.matteLook === 'off' ? undefined : matteMeant(s)));
  const versions = useVersions();
  const [state, set] = useState<Showing>({ busy: true });
  const lastFull = useRef(0);

  useEffect(() => {
    if (!started) return;
    let current = true;
    const doc = previewed({ finish, preview });
    const scales = [...draftsBelow(lastFull.current), 1];
    const compared = mode === 'off' ? undefined : comparedWith(other, doc, frame, versions, still);
    const against = compared && { ...compared, difference: mode === 'difference' ? gain : undefined };
    set((s) => ({ ...s, busy: true }));
    const ready = (shown: Shown) => {
      if (!current) return;
      // What came from the cache says nothing about how long it takes to compute.
      if (shown.scale === 1 && shown.millis > 25) lastFull.current = shown.millis;
      // Its problem, if it had one, is over.
      set({ shown, busy: shown.scale !== 1 });
    };
    started.engine
      .show(
        { finish: doc, point: { strand, after }, frame, region: region && { ...region, of: full } },
        scales,
        { look, stops, gamma, backing, marks, range: range && [...range] },
        ready,
        { against, matte: matteOf, matteLook },
      )
      .catch((error) => {
        if (current) set((s) => ({ ...s, problem: (error as Error).message, busy: false }));
      });
    return () => {
      current = false;
    };
  }, [
    started,
    finish,
    preview,
    frame,
    look,
    stops,
    gamma,
    backing,
    marks,
    range,
    strand,
    after,
    mode,
    other,
    gain,
    versions,
    still,
    matteOf,
    matteLook,
    region,
    full,
  ]);
  return state;
}
