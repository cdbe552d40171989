import { toast } from 'sonner';
import { createStore, useStore } from 'zustand';
import type { ShotDetail } from '@/api/shots';
import type { Engine } from '@/browser/engine/engine';
import type { ShotStore } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import { type Measured, measuredGuide } from '@/core/finish/guide-edits';
import type { GuideSource } from '@/core/finish/track-schema';
import { setValues } from '@/core/finish/value-edits';
import { t } from '../words/words';

/** Measures where a guide is on every frame, and puts it into the document as keys. */

/** What a guide is measured of. A place or a patch begins at a pixel of the frame that is seen. */
export type Measure =
  | { type: 'middle'; strand: string }
  | { type: 'light'; step: string }
  | { type: 'scene'; at: { x: number; y: number } }
  | { type: 'patch'; at: { x: number; y: number } };

/** The sizes that a patch is followed with, in pixels of the full frame: its side, and how far it may move from where it is expected. */
export type PatchSizes = { side: number; reach: number; renewed: boolean };

type Measuring = { guide: string; done: number; of: number };
const state = createStore<{ now?: Measuring; patch: PatchSizes }>()(() => ({
  patch: { side: 31, reach: 24, renewed: false },
}));
export const useMeasuring = () => useStore(state, (s) => s.now);
export const usePatchSizes = () => useStore(state, (s) => s.patch);
export const setPatchSizes = (part: Partial<PatchSizes>) =>
  state.setState((s) => ({ patch: { ...s.patch, ...part } }));

let stopped = false;
export function stopMeasuring(engine: Engine | undefined) {
  stopped = true;
  state.setState({ now: undefined });
  engine?.stopMiddles().catch(() => {});
}

/** The position pass of a shot, if it has one: of the media that the others are found beside. */
export function positionPass(shot: ShotDetail): { media: string; pass: string } | undefined {
  for (const media of shot.media)
    for (const pass of media.passes)
      if (pass.kind === 'position') return { media: media.name, pass: pass.name };
}

/** Frames in words: those that follow each other as a span. */
export function spans(frames: readonly number[]): string {
  const words: string[] = [];
  for (let i = 0; i < frames.length; i++) {
    let end = i;
    while (frames[end + 1] === frames[end] + 1) end++;
    words.push(end > i + 1 ? `${frames[i]} to ${frames[end]}` : frames.slice(i, end + 1).join(', '));
    i = end;
  }
  return words.join(', ');
}

type Result = { source: GuideSource; places: Measured; warnings: string[] };

async function measured(
  engine: Engine,
  store: ShotStore,
  shot: ShotDetail,
  how: Measure,
  tell: (done: number) => void,
): Promise<Result | string | undefined> {
  const { finish, frame } = store.getState();
  const frames = Array.from({ length: shot.last - shot.first + 1 }, (_, i) => shot.first + i);
  switch (how.type) {
    case 'middle':
    case 'light': {
      const found = how.type === 'light' ? findStep(finish, how.step) : undefined;
      if (how.type === 'light' && !found) return t`The step is not there any more. Choose another one.`;
      const point =
        how.type === 'light'
          ? { strand: found!.strand.id, after: how.step }
          : { strand: how.strand, after: 'end' };
      // A light step shows what it takes, instead of its result.
      const doc =
        how.type === 'light' ? setValues(finish, how.step, { show: 'taken' }).apply(finish) : finish;
      const places = await engine.middles(doc, point, frames, tell);
      if (!places) return;
      const gone = frames.filter((f) => !places.some((p) => p.frame === f));
      const source: GuideSource =
        how.type === 'light' ? { type: 'light', step: how.step } : { type: 'middle', ...point };
      const warnings = gone.length > 0 ? [t`Nothing to measure on frame ${spans(gone)}: no key there.`] : [];
      return { source, places, warnings };
    }
    case 'scene': {
      const from = positionPass(shot);
      if (!from)
        return t`The shot has no position pass. Add one to the render, or follow a patch of the picture.`;
      const found = await engine.scenePlaces(from.media, from.pass, { frame, ...how.at }, frames, tell);
      if (!found) return;
      if ('problem' in found)
        return found.problem === 'nothing'
          ? t`There is no surface under the pointer. Click on a surface.`
          : t`The file of frame ${found.frame} does not say where its camera stands (worldToNDC, or worldToCamera and fieldOfView). Write it with the render, or follow a patch.`;
      const of = (state: string) => found.places.filter((p) => p.state === state).map((p) => p.frame);
      const [hidden, outside] = [of('hidden'), of('outside')];
      const warnings = [
        ...(hidden.length > 0 ? [t`Hidden behind something on frame ${spans(hidden)}.`] : []),
        ...(outside.length > 0 ? [t`Outside the picture on frame ${spans(outside)}.`] : []),
      ];
      const source: GuideSource = {
        type: 'scene',
        ...from,
        place: found.place,
        ...(hidden.length > 0 ? { hidden } : {}),
        ...(outside.length > 0 ? { outside } : {}),
      };
      return { source, places: found.places, warnings };
    }
    case 'patch': {
      const sizes = state.getState().patch;
      const point = { strand: finish.main, after: 'head' };
      const start = { frame, x: how.at.x + 0.5, y: how.at.y + 0.5 };
      const found = await engine.followPatch(
        finish,
        point,
        start,
        sizes,
        { first: shot.first, last: shot.last },
        tell,
      );
      if (!found) return;
      const source: GuideSource = {
        type: 'patch',
        ...point,
        frame,
        side: sizes.side,
        ...(sizes.renewed ? { renewed: true as const } : {}),
        confidence: found.places.map((p) => ({ frame: p.frame, value: Number(p.confidence.toFixed(3)) })),
      };
      const warnings =
        found.lost.length > 0
          ? [
              t`The patch is lost on frame ${spans(found.lost)}. Set the guide there and follow on, or use a larger patch.`,
            ]
          : [];
      return { source, places: found.places, warnings };
    }
  }
}

export async function measureGuide(
  engine: Engine,
  store: ShotStore,
  shot: ShotDetail,
  guide: string,
  how: Measure,
) {
  stopped = false;
  // The last words of a job may come after its result.
  let over = false;
  const of = shot.last - shot.first + 1;
  const tell = (done: number) => {
    if (!over) state.setState({ now: { guide, done, of } });
  };
  tell(0);
  const result = await measured(engine, store, shot, how, tell).catch((error) => (error as Error).message);
  over = true;
  state.setState({ now: undefined });
  if (!result || stopped) return;
  if (typeof result === 'string') return void toast.error(result);
  if (!store.getState().edit((doc) => measuredGuide(doc, guide, result.source, result.places))) return;
  for (const warning of result.warnings) toast.warning(warning);
}

/** What a guide was measured of, in words. */
export function sourceWords(source: GuideSource | undefined, doc: Parameters<typeof findStep>[0]): string {
  switch (source?.type) {
    case undefined:
      return t`By hand`;
    case 'middle':
      return t`Middle of ${doc.strands.find((s) => s.id === source.strand)?.name ?? t`a strand that is gone`}`;
    case 'light': {
      const found = findStep(doc, source.step);
      return t`Light that ${found ? stepName(found.step) : t`a step that is gone`} takes`;
    }
    case 'scene':
      return t`A place in the scene`;
    case 'patch':
      return t`A patch of the picture`;
  }
}
