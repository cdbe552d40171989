import { ChevronLeft, ChevronRight, Diamond } from 'lucide-react';
import { useShot } from '@/browser/session/store';
import { moveKey, setInterpolation, toggleKey } from '@/core/finish/key-edits';
import { holdingKey, type Interpolation, interpolations, type Key, nextKey } from '@/core/finish/keys';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';

type Props = { stepId: string; valueKey: string; name: string; keys: readonly Key[] | undefined };

/** Whether a number changes over time, and has a key on this frame: filled if it has one. */
export function KeyMark({ stepId, valueKey, name, keys }: Props) {
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const here = keys?.some((k) => k.frame === frame) ?? false;
  const label = here ? `Remove the key of ${name}` : `Add a key to ${name}`;
  return (
    <button
      type="button"
      className={`cursor-pointer p-0.5 hover:text-primary ${keys ? 'text-secondary' : 'text-quiet/50'}`}
      aria-label={label}
      aria-pressed={here}
      title={label}
      onClick={() => edit((finish) => toggleKey(finish, stepId, valueKey, frame))}
    >
      <Diamond size={11} fill={here ? 'currentColor' : 'none'} />
    </button>
  );
}

/** Previous and next key, the frame of this key, and the interpolation from it. */
export function KeyRow({ stepId, valueKey, name, keys }: Props & { keys: readonly Key[] }) {
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
      aria-label={`Keys of ${name}`}
    >
      <IconButton
        icon={ChevronLeft}
        label="Previous key"
        disabled={before === undefined}
        onClick={() => change({ frame: before })}
      />
      {here ? (
        <input
          key={frame}
          type="number"
          className="input input-xs w-14 text-right"
          aria-label={`Frame of the key of ${name}`}
          title="Type another frame to move the key."
          defaultValue={frame}
          onBlur={(e) => {
            const to = Math.round(Number(e.target.value));
            if (!Number.isFinite(to) || to === frame || e.target.value === '') return;
            edit((finish) => moveKey(finish, stepId, valueKey, frame, to));
            change({ frame: to });
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      ) : (
        <span className="w-14 text-center">{keys.length === 1 ? '1 key' : `${keys.length} keys`}</span>
      )}
      <IconButton
        icon={ChevronRight}
        label="Next key"
        disabled={after === undefined}
        onClick={() => change({ frame: after })}
      />
      <select
        className="select select-xs ml-auto w-24"
        aria-label={`Interpolation of ${name}`}
        title="Interpolation from this key to the next."
        value={holds.interpolation ?? 'ease'}
        onChange={(e) =>
          edit((finish) => setInterpolation(finish, stepId, valueKey, frame, e.target.value as Interpolation))
        }
      >
        <Options of={interpolations} />
      </select>
    </div>
  );
}
