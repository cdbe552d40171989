import { useDraggable, useDroppable } from '@dnd-kit/core';
import { Diamond, FoldVertical, Link2, StickyNote, UnfoldVertical } from 'lucide-react';
import { memo } from 'react';
import { previewed, type ShotStore, useShot, useShotStore } from '@/browser/session/store';
import { valuesOn } from '@/core/finish/animated';
import { findStep, originalOf, type Step, specOf, stepName } from '@/core/finish/finish';
import { isUse } from '@/core/finish/uses';
import type { Kind } from '@/core/picture/kind';
import { overridden } from '@/core/recipes/differences';
import { stepSpec } from '@/core/steps/registry';
import { kindsOf } from '@/core/steps/shared/define';
import { formatValue } from '../parts/format-value';
import { PixelCanvas } from '../parts/PixelCanvas';
import { toggleFold } from '../recipes/use-tools';
import { t } from '../words/words';
import { goToValues } from '../workspace/areas';
import { CardName } from './CardName';
import { stepHeight } from './geometry';

/** `inactive` is the kind that the strand carries where the step does not accept it. */
type Props = { step: Step; inactive?: Kind; x: number; y: number; width: number; faded: boolean };

/** The shortest bar that can still be seen. */
const percent = (share: number) =>
  share === 0 ? 'empty' : `${(share * 100).toFixed(share < 0.0995 ? 1 : 0)} %`;

/** A step on its strand: the picture after it, its name, its summary value, the share of light it adds. */
export const StepCard = memo(function StepCard({ step, inactive, x, y, width, faded }: Props) {
  const store = useShotStore();
  const thumbnail = useShot((s) => s.noticed.thumbnails[step.id]);
  const selected = useShot((s) => s.selected === step.id);
  const also = useShot((s) => s.also.includes(step.id));
  const summaryValue = useShot((s) => {
    const spec = specOf(step)!;
    const doc = previewed(s);
    const now = valuesOn(doc, findStep(doc, step.id)?.step ?? step, s.frame);
    if (isUse(step)) {
      const own = overridden(step).length;
      const amount = formatValue(spec.values.amount, now.amount);
      return own > 0 ? `${own} own` : `amount ${amount}`;
    }
    return spec.summaryValue
      ? formatValue(spec.values[spec.summaryValue], now[spec.summaryValue])
      : spec.stage;
  });
  const change = useShot((s) => s.change);
  const follows = useShot((s) => step.follows !== undefined && originalOf(s.finish, step) !== step);
  const keyed = useShot((s) => originalOf(s.finish, step).animation !== undefined);
  const { setNodeRef: setDrag, listeners, isDragging } = useDraggable({ id: step.id });
  const { setNodeRef: setDrop, isOver } = useDroppable({ id: `step:${step.id}` });
  const use = isUse(step);
  const off = step.bypass || inactive !== undefined;
  const addsLight = stepSpec(step.type)!.stage === 'light';
  const share = off ? 0 : (thumbnail?.share ?? 0);
  const covers = off ? undefined : thumbnail?.covers;
  const hint = inactive
    ? t`Inactive: the strand carries a ${inactive} here, and the step accepts ${kindsOf(stepSpec(step.type)!).join(' or ')}`
    : step.bypass
      ? t`Bypassed`
      : covers !== undefined
        ? t`Covers ${(covers * 100).toFixed(2)} % of the frame`
        : addsLight
          ? t`Adds ${(share * 100).toFixed(1)} % of the light`
          : stepSpec(step.type)!.description;
  return (
    <>
      <button
        ref={(node) => {
          setDrag(node);
          setDrop(node);
        }}
        {...listeners}
        type="button"
        aria-pressed={selected || also}
        data-card
        data-selected={selected}
        data-step={step.id}
        tabIndex={selected ? 0 : -1}
        title={[`${stepName(step)}. ${hint}`, step.note].filter(Boolean).join('\n')}
        className={`absolute flex cursor-pointer items-center gap-1.5 rounded-box border bg-base-300 px-1.5 text-left ${
          selected
            ? 'border-primary ring-1 ring-primary'
            : also
              ? 'border-primary outline-1 outline-primary outline-dashed'
              : 'border-line hover:border-[#6a6a6a]'
        } ${faded ? 'opacity-25' : ''} ${use ? 'pr-6 shadow-[3px_3px_0_-1px_var(--color-base-100),3px_3px_0_0_var(--color-line)]' : ''} ${off ? 'border-dashed opacity-55' : ''} ${isOver ? 'ring-1 ring-primary' : ''} ${isDragging ? 'opacity-40' : ''}`}
        style={{ left: x, top: y, width, height: stepHeight }}
        onClick={(e) => (e.shiftKey ? toggleAlso(store, step.id) : change({ selected: step.id }))}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || e.ctrlKey || e.altKey) return;
          e.preventDefault();
          change({ selected: step.id });
          goToValues();
        }}
      >
        <PixelCanvas
          picture={thumbnail}
          className={`h-8 shrink-0 rounded-sm ${width < 110 ? 'w-7' : 'w-9'}`}
        />
        <span className="min-w-0 flex-1">
          <span className="flex items-center gap-1 text-[13px] leading-tight font-medium">
            <CardName name={stepName(step)} />
            {follows && <Link2 size={11} className="shrink-0 text-quiet" aria-label={t`linked copy`} />}
            {keyed && <Diamond size={10} className="shrink-0 text-secondary" aria-label={t`has keys`} />}
            {step.note && (
              <StickyNote size={11} className="shrink-0 text-secondary" aria-label={t`has a note`} />
            )}
          </span>
          <span className="card-value flex gap-1 text-xs leading-tight text-quiet">
            <span className="truncate">{off ? (inactive ? 'inactive' : 'bypassed') : summaryValue}</span>
            {covers !== undefined && <span className="shrink-0 text-primary">{percent(covers)}</span>}
          </span>
        </span>
        {addsLight && (
          <span
            className="absolute inset-x-1.5 bottom-1 h-[3px] overflow-hidden rounded bg-[#454545]"
            aria-hidden="true"
          >
            <span
              className="block h-full bg-secondary"
              style={{ width: `${Math.min(1, Math.sqrt(share)) * 100}%` }}
            />
          </span>
        )}
      </button>
      {use && <FoldButton step={step} x={x + width} y={y} />}
    </>
  );
});

/** Selects a step beside the one that is selected, or not any more. */
function toggleAlso(store: ShotStore, id: string) {
  const { selected, also, finish, change } = store.getState();
  if (id === selected || !findStep(finish, selected ?? '')) return change({ selected: id });
  change({ also: also.includes(id) ? also.filter((a) => a !== id) : [...also, id] });
}

/** Unfolds a recipe in its place on the board, or folds it. */
function FoldButton({ step, x, y }: { step: Step; x: number; y: number }) {
  const store = useShotStore();
  const open = useShot((s) => s.unfolded.includes(step.id));
  const label = `${open ? t`Fold` : t`Unfold`} ${stepName(step)}`;
  const Icon = open ? FoldVertical : UnfoldVertical;
  return (
    <button
      type="button"
      className="absolute grid size-[24px] cursor-pointer place-content-center rounded text-quiet hover:text-primary"
      style={{ left: x - 25, top: y + stepHeight / 2 - 12 }}
      aria-label={label}
      aria-expanded={open}
      tabIndex={-1}
      title={label}
      onClick={() => toggleFold(store, step.id)}
    >
      <Icon size={13} />
    </button>
  );
}
