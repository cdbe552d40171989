import { Crosshair, Plus, ScanSearch, Trash2 } from 'lucide-react';
import { useEffect } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useEngine } from '@/browser/engine/use-engine';
import { previewed, useRefusing, useShot, useShotStore } from '@/browser/session/store';
import type { Finish } from '@/core/finish/finish';
import { findStep, stepName } from '@/core/finish/finish';
import { addGuide, follow, pairsOf, removeGuide, renameGuide, smoothGuide } from '@/core/finish/guide-edits';
import { namesApart } from '@/core/finish/key-table';
import { trackOf } from '@/core/finish/keys';
import type { GuideSource } from '@/core/finish/track-schema';
import { stepSpec } from '@/core/steps/registry';
import { placeOn } from '@/core/time/guides';
import { formatNumber } from '../parts/format-value';
import { IconButton } from '../parts/IconButton';
import { TextField } from '../parts/TextField';
import { Toggle } from '../parts/Toggle';
import { t } from '../words/words';
import {
  type Measure,
  measureGuide,
  positionPass,
  setPatchSizes,
  sourceWords,
  spans,
  stopMeasuring,
  useMeasuring,
  usePatchSizes,
} from './measure-guide';

type Guide = NonNullable<Finish['guides']>[number];

/** Places that move over the picture: set by hand on it, or measured, and what follows them. */
export function Guides({ shot }: { shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const selected = useShot((s) => s.selected);
  const started = useEngine();
  const measuring = useMeasuring();
  // Whoever leaves wants it no more.
  useEffect(() => () => stopMeasuring(started?.engine), [started]);
  const guides = shown.guides ?? [];
  const pairs = pairsOf(finish, selected);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_17rem] gap-6 overflow-y-auto px-4 py-2 text-xs">
      <div className="grid content-start gap-1.5">
        {guides.length === 0 && (
          <p className="py-4 text-sm text-quiet">
            {t`A guide is a place that moves over the picture. Set it frame by frame with its ring on the picture, or measure it: the middle of a matte or of light, a place in the scene, or a patch of the picture. Centres of steps, layers and shapes can follow it.`}
          </p>
        )}
        {guides.map((g) => (
          <GuideRow key={g.id} guide={g} shot={shot} frame={frame} busy={measuring !== undefined} />
        ))}
        <div className="flex items-center gap-4">
          <button
            type="button"
            className="btn btn-xs btn-soft w-fit"
            onClick={() => edit((doc) => addGuide(doc, t`Guide ${guides.length + 1}`, { x: 0, y: 0 }, frame))}
          >
            <Plus size={13} /> {t`Add a guide`}
          </button>
          {guides.length > 0 && <PatchFields />}
        </div>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-1.5 border-l border-line pl-4">
        {pairs.length > 0 ? (
          pairs.map(({ of, owner, name, pair }) => (
            <label key={`${of}/${pair.x}`} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate" title={`${owner} › ${name}`}>
                <span className="text-quiet">{owner} › </span>
                {name}
              </span>
              <select
                className="select select-xs w-32"
                aria-label={t`${name} of ${owner} follows`}
                value={trackOf(finish, of, pair.x)?.follows?.guide ?? ''}
                onChange={(e) => edit((doc) => follow(doc, of, pair, e.target.value || undefined))}
              >
                <option value="">{t`Follows nothing`}</option>
                {guides.map((g) => (
                  <option key={g.id} value={g.id}>
                    {t`Follows ${g.name}`}
                  </option>
                ))}
              </select>
            </label>
          ))
        ) : (
          <p className="text-quiet">
            {t`Select a step with a centre, or a strand of layers or shapes, to let it follow a guide.`}
          </p>
        )}
      </div>
    </div>
  );
}

/** How large a patch is that is followed, and how far it may move in a frame. */
function PatchFields() {
  const { side, reach, renewed } = usePatchSizes();
  const number = (label: string, value: number, most: number, set: (v: number) => void) => (
    <span className="flex items-center gap-1">
      <span className="text-quiet">{label}</span>
      <TextField
        label={t`${label} in px`}
        className="input input-xs w-11 text-right"
        selects
        value={String(value)}
        onCommit={(text) => {
          const to = Math.round(Number(text));
          if (!(to >= 5 && to <= most)) return t`${label} is a number from 5 to ${most}.`;
          set(to);
        }}
      />
    </span>
  );
  return (
    <div className="ml-auto flex items-center gap-3" role="group" aria-label={t`Patches`}>
      {number(t`Patch (px)`, side, 401, (v) => setPatchSizes({ side: v | 1 }))}
      {number(t`Search (px)`, reach, 200, (v) => setPatchSizes({ reach: v }))}
      <Toggle
        label={t`Renew`}
        title={t`Takes the patch again on each frame, for things whose look changes. It may drift.`}
        checked={renewed}
        onChange={(on) => setPatchSizes({ renewed: on })}
      />
    </div>
  );
}

type RowProps = { guide: Guide; shot: ShotDetail; frame: number; busy: boolean };

function GuideRow({ guide: g, shot, frame, busy }: RowProps) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const picking = useShot((s) =>
    s.tool?.type === 'pick-guide' && s.tool.guide === g.id ? s.tool.how : undefined,
  );
  const refusing = useRefusing();
  const store = useShotStore();
  const started = useEngine();
  const measuring = useMeasuring();
  const { x, y } = placeOn(g, frame);
  const measure = (how: Measure) => started && measureGuide(started.engine, store, shot, g.id, how);
  const lights = finish.strands.flatMap((s) =>
    s.steps.filter((t) => stepSpec(t.type)?.stage === 'light' && t.follows === undefined),
  );
  const lightNames = namesApart(
    lights.map((t) => ({ id: t.id, name: stepName(t), strand: findStep(finish, t.id)!.strand.name })),
  );
  const strandNames = namesApart(finish.strands.map((s) => ({ id: s.id, name: s.name, strand: '' })));
  const pick = (how: 'scene' | 'patch') =>
    change({ tool: picking === how ? undefined : { type: 'pick-guide', guide: g.id, how } });
  return (
    <div
      role="group"
      aria-label={t`Guide ${g.name}`}
      className="flex items-center gap-2 border-b border-line pb-1.5"
    >
      <span className="w-28">
        <TextField
          label={t`Name of the guide ${g.name}`}
          className="input input-xs w-full"
          value={g.name}
          onCommit={(name) => refusing((doc) => renameGuide(doc, g.id, name))}
        />
      </span>
      <span className="w-28 text-quiet" data-guide-place>
        {t`${formatNumber(x)}, ${formatNumber(y)} px`}
      </span>
      <span className="w-12 text-quiet">{t`${g.x.length} keys`}</span>
      {measuring?.guide === g.id ? (
        <span className="flex flex-1 items-center gap-2" role="status">
          {t`${measuring.done} of ${measuring.of} frames`}
          <progress className="progress progress-primary w-28" value={measuring.done} max={measuring.of} />
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={() => stopMeasuring(started?.engine)}
          >
            {t`Stop`}
          </button>
        </span>
      ) : (
        <>
          <select
            className="select select-xs w-40"
            aria-label={t`Measure ${g.name}`}
            title={t`What it is measured of, on every frame.`}
            disabled={busy}
            value=""
            onChange={(e) => {
              const [type, id] = e.target.value.split(':');
              if (type === 'middle') measure({ type, strand: id });
              if (type === 'light') measure({ type, step: id });
            }}
          >
            <option value="" disabled hidden>
              {sourceWords(g.source, finish)}
            </option>
            <optgroup label={t`Middle of`}>
              {finish.strands.map((s) => (
                <option key={s.id} value={`middle:${s.id}`}>
                  {strandNames.get(s.id)}
                </option>
              ))}
            </optgroup>
            {lights.length > 0 && (
              <optgroup label={t`Light that is taken by`}>
                {lights.map((t) => (
                  <option key={t.id} value={`light:${t.id}`}>
                    {lightNames.get(t.id)}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
          <IconButton
            icon={Crosshair}
            label={
              positionPass(shot)
                ? t`Pick a place in the scene`
                : t`A place in the scene needs a position pass`
            }
            pressed={picking === 'scene'}
            disabled={busy || !positionPass(shot)}
            onClick={() => pick('scene')}
          />
          <IconButton
            icon={ScanSearch}
            label={t`Follow a patch of the picture`}
            pressed={picking === 'patch'}
            disabled={busy}
            onClick={() => pick('patch')}
          />
          <SourceState source={g.source} shot={shot} />
        </>
      )}
      <span className="ml-auto flex items-center">
        <button
          type="button"
          className="btn btn-ghost btn-xs font-normal"
          disabled={g.x.length < 5}
          title={t`Makes its way calmer: a parabola through five keys at a time. Needs five keys.`}
          onClick={() => edit((doc) => smoothGuide(doc, g.id))}
        >
          {t`Smooth`}
        </button>
        <IconButton
          icon={Trash2}
          label={t`Remove the guide ${g.name}`}
          onClick={() => edit((doc) => removeGuide(doc, g.id))}
        />
      </span>
    </div>
  );
}

/** What a measurement told: frames on which a place is hidden or outside, how sure a patch was. */
function SourceState({ source, shot }: { source: GuideSource | undefined; shot: ShotDetail }) {
  if (source?.type === 'scene') {
    const words = [
      source.hidden && t`hidden on ${spans(source.hidden)}`,
      source.outside && t`outside on ${spans(source.outside)}`,
    ].filter(Boolean);
    return (
      <span className="min-w-0 truncate text-quiet" title={words.join('; ')}>
        {words.join('; ')}
      </span>
    );
  }
  if (source?.type !== 'patch') return null;
  const count = shot.last - shot.first + 1;
  const least = Math.min(...source.confidence.map((c) => c.value));
  const points = source.confidence
    .map((c) => `${((c.frame - shot.first + 0.5) / count) * 100},${22 - 20 * Math.max(0, c.value)}`)
    .join(' ');
  return (
    <span
      className="flex items-center gap-1 text-quiet"
      title={t`Correlation on each frame, at least ${least.toFixed(2)}.`}
    >
      <svg
        className="h-5 w-20 bg-base-300"
        viewBox="0 0 100 24"
        preserveAspectRatio="none"
        role="img"
        aria-label={t`Confidence`}
      >
        <polyline points={points} fill="none" stroke="#8fcf9b" vectorEffect="non-scaling-stroke" />
      </svg>
      ≥ {least.toFixed(2)}
    </span>
  );
}
