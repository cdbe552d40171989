import { useMemo } from 'react';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { type Finish, findStep, pointAbove, type Tap } from '../../core/finish/finish';
import { kindAt } from '../../core/finish/flow';
import type { Against } from '../engine/answers';
import type { Look } from '../engine/look-on';
import { previewed, type ShotState, useShot } from '../session/store';
import { useVersions, type Versions } from '../session/versions';

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

/** The request behind each choice of a comparison. A pinned picture keeps its frame; others have none of their own. */
function comparedWith(
  what: string,
  doc: Finish,
  versions: Versions,
  still: ShotState['still'],
): Against | undefined {
  const moving = { frame: 0, pinned: false };
  const [type, ...parts] = what.split(':');
  if (type === 'point') {
    const [strand, after] = parts;
    const there = doc.strands.find((s) => s.id === strand);
    const has = after === 'head' || after === 'end' || there?.steps.some((s) => s.id === after);
    return there && has ? { finish: doc, point: { strand, after }, ...moving } : undefined;
  }
  if (type === 'version' || type === 'finish') {
    const finish = (type === 'version' ? versions.documents : versions.others)[Number(parts[0])];
    return finish && { finish, point: { strand: finish.main, after: 'end' }, ...moving };
  }
  // A reference picture is drawn by the viewer itself.
  if (type === 'reference') return undefined;
  if (type === 'still') return still && { ...still, pinned: true };
  return { finish: doc, point: { strand: doc.main, after: 'head' }, ...moving };
}

/** What the viewer looks at and how; `onFrame` puts it on a frame. The same object until any of it changes. */
export function useLook(): Look {
  const finish = useShot((s) => s.finish);
  const preview = useShot((s) => s.preview);
  const editing = useShot((s) => s.editing);
  const look = useShot((s) => s.look);
  const stops = useShot((s) => s.stops);
  const gamma = useShot((s) => s.gamma);
  const screen = useShot((s) => s.screen);
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
  const matte = useShot((s) => (s.matteLook === 'off' ? undefined : matteMeant(s)));
  const versions = useVersions();
  return useMemo(() => {
    const doc = previewed({ finish, preview, editing });
    const compared = mode === 'off' ? undefined : comparedWith(other, doc, versions, still);
    return {
      request: { finish: doc, point: { strand, after }, frame: 0, region: region && { ...region, of: full } },
      view: { look, stops, gamma, screen, backing, marks, range: range && [...range] },
      beside: {
        against: compared && { ...compared, difference: mode === 'difference' ? gain : undefined },
        matte,
        matteLook,
      },
    };
  }, [
    finish,
    preview,
    editing,
    look,
    stops,
    gamma,
    screen,
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
    matte,
    matteLook,
    region,
    full,
  ]);
}
