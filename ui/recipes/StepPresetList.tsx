import { Bookmark, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { useStepPresets } from '@/browser/step-presets';
import { stepSpec } from '@/core/steps/registry';
import { t } from '../words/words';

/** Presets of steps in the library; none are shown where there are none. */
export function StepPresetList({ words }: { words: string }) {
  const { presets, remove } = useStepPresets();
  const nameOf = (step: string) => stepSpec(step)?.name ?? step;
  const found = presets.filter((p) =>
    `${p.name} ${nameOf(p.step)}`.toLowerCase().includes(words.trim().toLowerCase()),
  );
  if (found.length === 0) return null;
  return (
    <section className="mt-8" aria-label={t`Presets of steps`}>
      <h2 className="mb-2 text-base font-semibold">{t`Presets of steps`}</h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-2 text-[13px]">
        {found.map((preset) => (
          <li
            key={`${preset.step} ${preset.name}`}
            className="flex items-center gap-2 rounded-box border border-line bg-base-100 px-3 py-2"
          >
            <Bookmark size={13} className="shrink-0 text-quiet" aria-hidden="true" />
            <span className="min-w-0 flex-1 truncate">
              {preset.name} <span className="text-quiet">{t`of ${nameOf(preset.step)}`}</span>
            </span>
            <button
              type="button"
              className="cursor-pointer text-quiet hover:text-error"
              aria-label={t`Delete the preset ${preset.name} of ${nameOf(preset.step)}`}
              title={t`Delete`}
              onClick={() => remove(preset).catch((error) => toast.error((error as Error).message))}
            >
              <Trash2 size={13} />
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
