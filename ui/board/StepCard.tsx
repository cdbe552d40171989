import type { Thumbnail } from '@/browser/engine.worker';
import { previewed, useShot } from '@/browser/shot-store';
import { findStep, type Step, stepName } from '@/core/finish/finish';
import { stepSpec } from '@/core/steps/registry';
import { formatValue } from '../parts/format-value';
import { PixelCanvas } from '../parts/PixelCanvas';
import { column, stepHeight } from './geometry';

type Props = { step: Step; idle: boolean; x: number; y: number; thumbnail: Thumbnail | undefined };

/** A step on its strand: the picture after it, its name, its one telling value, the share of light it adds. */
export function StepCard({ step, idle, x, y, thumbnail }: Props) {
  const selected = useShot((s) => s.selected === step.id);
  const telling = useShot((s) => {
    const spec = stepSpec(step.type)!;
    const now = findStep(previewed(s), step.id)?.step ?? step;
    return formatValue(spec.values[spec.telling], now.values[spec.telling]);
  });
  const change = useShot((s) => s.change);
  const off = step.bypass || idle;
  const share = off ? 0 : (thumbnail?.share ?? 0);
  const hint = idle
    ? 'Rests: this strand carries data'
    : step.bypass
      ? 'Bypassed'
      : `Adds ${(share * 100).toFixed(1)} % of the light`;
  return (
    <button
      type="button"
      role="treeitem"
      aria-selected={selected}
      data-selected={selected}
      data-step={step.id}
      title={`${stepName(step)}. ${hint}`}
      className={`absolute flex cursor-pointer items-center gap-2 rounded-box border bg-base-300 px-1.5 text-left ${
        selected ? 'border-primary ring-1 ring-primary' : 'border-line hover:border-[#6a6a6a]'
      } ${off ? 'border-dashed opacity-55' : ''}`}
      style={{ left: x, top: y, width: column, height: stepHeight }}
      onClick={() => change({ selected: step.id })}
    >
      <PixelCanvas picture={thumbnail} className="h-8 w-11 shrink-0 rounded-sm" />
      <span className="min-w-0 flex-1">
        <span className="block truncate text-[13px] leading-tight font-medium">{stepName(step)}</span>
        <span className="block truncate text-xs leading-tight text-quiet">
          {off ? (idle ? 'rests' : 'bypassed') : telling}
        </span>
      </span>
      <span
        className="absolute inset-x-1.5 bottom-1 h-[3px] overflow-hidden rounded bg-[#454545]"
        aria-hidden="true"
      >
        <span
          className="block h-full bg-secondary"
          style={{ width: `${Math.min(1, Math.sqrt(share)) * 100}%` }}
        />
      </span>
    </button>
  );
}
