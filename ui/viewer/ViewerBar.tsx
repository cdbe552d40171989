import { Activity, Columns2, Crop, Images } from 'lucide-react';
import { memo } from 'react';
import { useShot } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import { type Look, looks } from '@/core/kernels/display';
import { RangeInput } from '../parts/RangeInput';
import { t } from '../words/words';
import { LookMenu } from './LookMenu';

const lookNames: Record<Look, string> = {
  colour: t`Colour`,
  red: 'R',
  green: 'G',
  blue: 'B',
  alpha: t`Alpha`,
  luminance: t`Luminance`,
};

const chip = (on: boolean) =>
  `btn btn-xs min-w-[24px] px-1.5 text-xs font-normal ${on ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`;

/** How the picture is looked at: which one, which channels, beside what, and how bright. */
export const ViewerBar = memo(function ViewerBar() {
  const channels = useShot((s) => s.look);
  const stops = useShot((s) => s.stops);
  const shows = useShot((s) => s.shows);
  const before = useShot((s) => s.before);
  const tool = useShot((s) => s.tool);
  const region = useShot((s) => s.region);
  const scopes = useShot((s) => s.scopes);
  const references = useShot((s) => s.references);
  const compare = useShot((s) => s.compare);
  const change = useShot((s) => s.change);
  const chosen = useShot((s) => {
    const found = findStep(s.finish, s.selected ?? '');
    return found
      ? t`After ${stepName(found.step)}`
      : (s.finish.strands.find((x) => x.id === s.selected)?.name ?? t`Selected`);
  });
  return (
    <div className="flex min-h-[38px] flex-wrap items-center gap-0.5 px-2 py-0.5">
      <div className="flex gap-0.5" role="group" aria-label={t`What is shown`}>
        <button
          type="button"
          className={chip(shows === 'finished')}
          aria-pressed={shows === 'finished'}
          onClick={() => change({ shows: 'finished' })}
        >
          {t`Finished`}
        </button>
        <button
          type="button"
          className={chip(shows === 'selected')}
          aria-pressed={shows === 'selected'}
          onClick={() => change({ shows: 'selected' })}
        >
          <span className="max-w-18 truncate">{chosen}</span>
        </button>
      </div>
      <span className="mx-0.5 h-4 border-l border-line" />
      <div className="flex" role="group" aria-label={t`Channels`}>
        {looks.map((l) => (
          <button
            key={l}
            type="button"
            className={chip(channels === l)}
            aria-pressed={channels === l}
            onClick={() => change({ look: l })}
          >
            {lookNames[l]}
          </button>
        ))}
      </div>
      <button
        type="button"
        className={`btn btn-ghost btn-xs btn-square ml-auto ${compare.mode === 'off' ? 'text-quiet' : 'text-primary'}`}
        aria-label={t`Compare`}
        aria-pressed={compare.mode !== 'off'}
        title={t`Compare with another picture (C)`}
        onClick={() => change({ compare: { ...compare, mode: compare.mode === 'off' ? 'wipe' : 'off' } })}
      >
        <Columns2 size={14} />
      </button>
      <button
        type="button"
        className={`btn btn-ghost btn-xs btn-square ${scopes ? 'text-primary' : 'text-quiet'}`}
        aria-label={t`Scopes`}
        aria-pressed={scopes}
        title={t`Waveform, histogram, stops (S)`}
        onClick={() => change({ scopes: !scopes })}
      >
        <Activity size={14} />
      </button>
      <button
        type="button"
        className={`btn btn-ghost btn-xs btn-square ${references ? 'text-primary' : 'text-quiet'}`}
        aria-label={t`References`}
        aria-pressed={references}
        title={t`Reference pictures (Q)`}
        onClick={() => change({ references: !references })}
      >
        <Images size={14} />
      </button>
      <button
        type="button"
        className={`btn btn-ghost btn-xs btn-square ${region || tool?.type === 'region' ? 'text-primary' : 'text-quiet'}`}
        aria-label={t`Region`}
        aria-pressed={region !== undefined}
        title={t`Compute only a part of the picture (R)`}
        onClick={() => change(region ? { region: undefined, tool: undefined } : { tool: { type: 'region' } })}
      >
        <Crop size={14} />
      </button>
      <LookMenu />
      <button
        type="button"
        className={chip(before)}
        aria-pressed={before}
        title={t`Bypass all steps while comparing (W)`}
        onClick={() => change({ before: !before })}
      >
        {t`Bypass all`}
      </button>
      <span
        className="flex items-center gap-1.5 text-xs text-quiet"
        title={t`Exposure for looking only. Double-click for 0.`}
      >
        <RangeInput
          min={-6}
          max={6}
          step={0.25}
          value={stops}
          aria-label={t`Exposure in stops`}
          className="range range-xs w-12"
          onPreview={(to) => change({ stops: to })}
          onCommit={(to) => change({ stops: to })}
          onCancel={() => {}}
          onDoubleClick={() => change({ stops: 0 })}
        />
        <span className="w-13 text-right whitespace-nowrap">
          {t`${stops > 0 ? '+' : ''}${stops.toFixed(2)} EV`}
        </span>
      </span>
    </div>
  );
});
