import { ChevronLeft, ChevronRight, Diamond, Plus, Trash2 } from 'lucide-react';
import type { ShotDetail } from '@/api/shots';
import { useRefusing, useShot } from '@/browser/session/store';
import { bake, moveKey, setInterpolation, setModulators, setSpace, toggleKey } from '@/core/finish/key-edits';
import type { NumberSpec, ValueSpec } from '@/core/steps/shared/define';
import { holdingKey, type Interpolation, interpolations, type Key, nextKey } from '@/core/time/keys';
import { type Modulator, modulatorNames, type Wave, waveForms } from '@/core/time/modulators';
import { goesBetween, type Track } from '@/core/time/track';
import { IconButton } from '../../parts/IconButton';
import { Options } from '../../parts/Options';
import { TextField } from '../../parts/TextField';
import { t } from '../../words/words';
import { HoldLevel } from './HoldLevel';

type Props = { of: string; valueKey: string; spec: ValueSpec; track: Track | undefined };

/** Whether a value changes over time, and has a key on this frame: filled on a key, half between keys. */
export function KeyMark({ of, valueKey, spec: { name }, track }: Props) {
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const keys = track?.keys;
  const here = keys?.some((k) => k.frame === frame) ?? false;
  const label = here ? t`Remove the key of ${name}` : t`Add a key to ${name}`;
  return (
    <button
      type="button"
      className={`grid size-[24px] cursor-pointer place-content-center self-start hover:text-primary ${track ? 'text-secondary' : 'text-quiet/50'}`}
      aria-label={label}
      aria-pressed={here}
      title={label}
      onClick={() => edit((finish) => toggleKey(finish, of, valueKey, frame))}
    >
      <Diamond
        size={11}
        fill={here ? 'currentColor' : 'none'}
        className={keys && !here ? 'opacity-70' : ''}
      />
    </button>
  );
}

/** What a value does over time: its keys about this frame, how they go on, and what moves it on top of them. */
export function TrackFields(props: Props & { shot: ShotDetail }) {
  const { spec, track } = props;
  const animates = useShot((s) => s.animates);
  return (
    <div className="col-span-2 grid gap-1 empty:hidden">
      {track?.keys && <KeyRow {...props} keys={track.keys} />}
      {spec.type === 'number' && (track || animates) && (
        <Modulators {...props} spec={spec} track={track ?? {}} />
      )}
    </div>
  );
}

/** Previous and next key, the frame of this key, and the interpolation from it. */
function KeyRow({ of, valueKey, spec, track, keys }: Props & { keys: readonly Key[] }) {
  const { name } = spec;
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const holds = holdingKey(keys, frame);
  const here = holds.frame === frame;
  const [before, after] = [nextKey(keys, frame, -1), nextKey(keys, frame, 1)];
  return (
    <div
      className="flex items-center gap-1 pl-2 text-xs text-quiet"
      role="group"
      aria-label={t`Keys of ${name}`}
    >
      <IconButton
        icon={ChevronLeft}
        label={t`Previous key`}
        disabled={before === undefined}
        onClick={() => change({ frame: before })}
      />
      {here ? (
        <input
          key={frame}
          type="number"
          className="input input-xs w-14 text-right"
          aria-label={t`Frame of the key of ${name}`}
          title={t`Type another frame to move the key.`}
          defaultValue={frame}
          onBlur={(e) => {
            const to = Math.round(Number(e.target.value));
            if (!Number.isFinite(to) || to === frame || e.target.value === '') return;
            edit((finish) => moveKey(finish, of, valueKey, frame, to));
            change({ frame: to });
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      ) : (
        <span className="w-14 text-center">{t`${keys.length} keys`}</span>
      )}
      <IconButton
        icon={ChevronRight}
        label={t`Next key`}
        disabled={after === undefined}
        onClick={() => change({ frame: after })}
      />
      {spec.type === 'colour' && (
        <select
          className="select select-xs ml-auto w-20"
          aria-label={t`Way between keys of ${name}`}
          title={t`How colours between two keys are mixed.`}
          value={track?.space ?? 'linear'}
          onChange={(e) =>
            edit((finish) => setSpace(finish, of, valueKey, e.target.value === 'oklab' ? 'oklab' : undefined))
          }
        >
          <Options of={{ linear: t`Light`, oklab: 'OKLab' }} />
        </select>
      )}
      {goesBetween(spec.type) && (
        <select
          className="select select-xs ml-auto w-24"
          aria-label={t`Interpolation of ${name}`}
          title={t`Interpolation from this key to the next.`}
          value={holds.interpolation ?? 'ease'}
          onChange={(e) =>
            edit((finish) => setInterpolation(finish, of, valueKey, frame, e.target.value as Interpolation))
          }
        >
          <Options of={interpolations} />
        </select>
      )}
    </div>
  );
}

/** Modulators that are made of nothing but numbers. */
const plain = ['flicker', 'wave', 'drift'] as const;

const fresh = (type: (typeof plain)[number], { soft, to, from }: NumberSpec): Modulator => {
  // A tenth of what the slider spans is seen and does not overdo it.
  const depth = Number((Math.min(to - from, soft[1] - soft[0]) / 10).toPrecision(2));
  if (type === 'flicker') return { type, rate: 8, depth, roughness: 0, seed: 1 };
  return type === 'drift'
    ? { type, rate: 0.5, depth, seed: 1 }
    : { type, form: 'sine', frequency: 1, depth, phase: 0 };
};

const fieldsOf: Record<Modulator['type'], readonly (readonly [string, string, string, string])[]> = {
  flicker: [
    ['rate', t`Rate`, t`Hz`, t`No part of the flicker is faster.`],
    ['depth', t`Depth`, '', t`How far it goes to both sides, in the unit of the value.`],
    ['roughness', t`Roughness`, '', t`How strong faster parts are, 0 to 1.`],
    ['seed', t`Seed`, '', t`Selects another flicker.`],
  ],
  wave: [
    ['frequency', t`Frequency`, t`Hz`, t`Waves a second.`],
    ['depth', t`Depth`, '', t`How far it goes to both sides, in the unit of the value.`],
    ['phase', t`Phase`, '°', t`Where it begins.`],
  ],
  drift: [
    ['rate', t`Rate`, t`Hz`, t`No part of the drift is faster.`],
    ['depth', t`Depth`, '', t`How far it goes to both sides, in the unit of the value.`],
    ['seed', t`Seed`, '', t`Selects another drift.`],
  ],
  level: [['frame', t`Frame`, '', t`The frame whose level is held.`]],
};

/** What moves a number on top of its keys. */
function Modulators({
  of,
  valueKey,
  spec,
  track,
  shot,
}: Props & { spec: NumberSpec; track: Track; shot: ShotDetail }) {
  const edit = useShot((s) => s.edit);
  const modulators = track.modulators ?? [];
  const refusing = useRefusing();
  const set = (to: readonly Modulator[]) =>
    refusing((finish) => setModulators(finish, of, valueKey, to, shot.rate));
  const change = (i: number, part: Partial<Modulator>) =>
    set(modulators.map((m, k) => (k === i ? ({ ...m, ...part } as Modulator) : m)));
  return (
    <div className="grid gap-1 pl-2 text-xs" role="group" aria-label={t`Modulators of ${spec.name}`}>
      {modulators.map((m, i) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: modulators have no other name
          key={i}
          className="grid gap-1 rounded bg-base-200 p-1.5"
          role="group"
          aria-label={t`${modulatorNames[m.type]} of ${spec.name}`}
        >
          <div className="flex items-center">
            <span className="font-semibold">{modulatorNames[m.type]}</span>
            {m.type === 'wave' && (
              <select
                className="select select-xs ml-2 w-24"
                aria-label={t`Form of the wave`}
                value={m.form}
                onChange={(e) => change(i, { form: e.target.value as Wave['form'] })}
              >
                <Options of={waveForms} />
              </select>
            )}
            <span className="ml-auto">
              <IconButton
                icon={Trash2}
                label={t`Remove the ${modulatorNames[m.type].toLowerCase()}`}
                onClick={() => set(modulators.filter((_, k) => k !== i))}
              />
            </span>
          </div>
          <div className="grid grid-cols-2 gap-x-2 gap-y-1">
            {fieldsOf[m.type].map(([key, name, unit, hint]) => (
              <PlainNumber
                key={key}
                name={unit ? `${name} in ${unit}` : name}
                shown={unit ? `${name} (${unit})` : name}
                hint={hint}
                value={(m as unknown as Record<string, number>)[key]}
                onCommit={(value) => change(i, { [key]: value } as Partial<Modulator>)}
              />
            ))}
          </div>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-1">
        {plain.map((type) => (
          <button
            key={type}
            type="button"
            className="btn btn-ghost btn-xs px-1 font-normal text-quiet"
            aria-label={t`Add a ${modulatorNames[type].toLowerCase()} to ${spec.name}`}
            onClick={() => set([...modulators, fresh(type, spec)])}
          >
            <Plus size={11} /> {modulatorNames[type]}
          </button>
        ))}
        {valueKey === 'amount' && <HoldLevel stepId={of} shot={shot} />}
        {modulators.length > 0 && (
          <button
            type="button"
            className="btn btn-ghost btn-xs ml-auto px-1 font-normal text-quiet"
            title={t`Keys in place of the modulators, to within a hundredth of what the slider spans.`}
            onClick={() =>
              edit((finish) => bake(finish, of, valueKey, shot, (spec.soft[1] - spec.soft[0]) / 100))
            }
          >
            {t`To keys`}
          </button>
        )}
      </div>
    </div>
  );
}

type NumberProps = {
  name: string;
  shown: string;
  hint: string;
  value: number;
  onCommit(value: number): string | undefined;
};

/** A number of a modulator. */
const PlainNumber = ({ name, shown, hint, value, onCommit }: NumberProps) => (
  <div className="flex flex-wrap items-center gap-1" title={hint}>
    <span className="min-w-0 flex-1 truncate text-quiet">{shown}</span>
    <TextField
      label={name}
      className="input input-xs w-13 text-right"
      selects
      value={String(value)}
      onCommit={(text) => {
        const to = Number(text.replace(',', '.'));
        return text.trim() !== '' && Number.isFinite(to) ? onCommit(to) : t`${shown} takes a number.`;
      }}
    />
  </div>
);
