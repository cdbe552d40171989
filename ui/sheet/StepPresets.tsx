import { Bookmark, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { StepPreset } from '@/api/step-presets';
import { useShot } from '@/browser/session/store';
import { useStepPresets } from '@/browser/step-presets';
import { usualValues } from '@/core/finish/usual-values';
import { stepSpec } from '@/core/steps/registry';
import type { Value, Values } from '@/core/steps/shared/define';
import { Dropdown } from '../parts/Dropdown';
import { t } from '../words/words';

type Props = {
  type: string;
  /** The values that are kept. */
  now(): Values;
  onTake(values: Record<string, Value>): string | undefined;
};

/** Named values of a step, for every shot: taken, kept, deleted. */
export function StepPresets({ type, now, onTake }: Props) {
  const spec = stepSpec(type)!;
  const width = useShot((s) => s.size.width);
  const { presets, save, remove } = useStepPresets(type);
  const [name, setName] = useState('');
  const failed = (error: Error) => void toast.error(error.message);
  const take = (kept: StepPreset['values']) => {
    const own = Object.entries(kept).filter(([key]) => Object.hasOwn(spec.values, key));
    const problem = onTake(Object.fromEntries(own) as Record<string, Value>);
    if (problem) toast.error(problem);
  };
  const keep = () => {
    const wanted = name.trim();
    if (!wanted) return;
    save({ step: type, name: wanted, values: now() as StepPreset['values'] }).then(() => {
      setName('');
      toast.success(t`The preset ${wanted} is kept.`);
    }, failed);
  };
  return (
    <Dropdown
      summary={
        <summary className="btn btn-ghost btn-sm btn-square" aria-label={t`Presets`} title={t`Presets`}>
          <Bookmark size={16} aria-hidden="true" />
        </summary>
      }
    >
      <div className="dropdown-content z-20 mt-1 grid w-60 gap-1 rounded-box border border-line bg-base-200 p-2 text-[13px] shadow-lg">
        <ul aria-label={t`Presets of ${spec.name}`} className="grid max-h-60 gap-0.5 overflow-y-auto">
          <li>
            <button
              type="button"
              className="w-full cursor-pointer rounded px-2 py-1 text-left hover:bg-base-300"
              onClick={() => take(usualValues(spec, width) as StepPreset['values'])}
            >
              {t`As it begins`}
            </button>
          </li>
          {presets.map((preset) => (
            <li key={preset.name} className="flex items-center">
              <button
                type="button"
                className="min-w-0 flex-1 cursor-pointer truncate rounded px-2 py-1 text-left hover:bg-base-300"
                onClick={() => take(preset.values)}
              >
                {preset.name}
              </button>
              <button
                type="button"
                data-stays
                className="cursor-pointer p-1 text-quiet hover:text-error"
                aria-label={t`Delete the preset ${preset.name}`}
                title={t`Delete`}
                onClick={() => remove(preset).catch(failed)}
              >
                <Trash2 size={12} />
              </button>
            </li>
          ))}
        </ul>
        <form
          className="flex gap-1 border-t border-line pt-2"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <input
            className="input input-xs min-w-0 flex-1"
            aria-label={t`Name for these values`}
            placeholder={t`Name for these values`}
            maxLength={100}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <button type="submit" className="btn btn-xs" data-stays disabled={name.trim() === ''}>
            {t`Keep`}
          </button>
        </form>
      </div>
    </Dropdown>
  );
}
