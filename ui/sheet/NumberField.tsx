import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { NumberSpec } from '@/core/steps/define';
import { formatNumber, unitSign } from '../parts/format-value';

type Props = {
  id: string;
  spec: NumberSpec;
  value: number;
  /** While dragging. */
  onPreview(value: number): void;
  /** When let go, typed or stepped. */
  onCommit(value: number): void;
};

/** Light and lengths are felt in ratios: their sliders give more room to small values. */
const curve = (spec: NumberSpec) =>
  spec.unit === 'ratio' || spec.unit === 'degrees' || spec.soft[0] < 0 ? 1 : 2;
const round = (v: number) => Number(v.toPrecision(6));

/** Name, slider with a soft range, and the number: typed, stepped by arrows (Shift ×10, Alt ÷10) or dragged. */
export function NumberField({ id, spec, value, onPreview, onCommit }: Props) {
  const [low, high] = spec.soft;
  const whole = (v: number) => (spec.whole ? Math.round(v) : v);
  const hold = (v: number) => whole(Math.min(spec.to, Math.max(spec.from, v)));
  const toSlider = (v: number) => Math.max(0, (Math.min(v, high) - low) / (high - low)) ** (1 / curve(spec));
  const fromSlider = (p: number) => whole(round(low + (high - low) * p ** curve(spec)));
  const fine = spec.whole ? 1 : (high - low) / 100;

  const drag = useRef<{ x: number; from: number; moved: boolean }>(undefined);
  const amount = (e: PointerEvent) => {
    const { x, from } = drag.current!;
    return round(hold(from + (e.clientX - x) * fine * (e.shiftKey ? 5 : e.altKey ? 0.1 : 0.5)));
  };

  const wholeName = `${spec.name}${unitSign[spec.unit] ? ` in ${unitSign[spec.unit]}` : ''}`;
  return (
    <div className="grid grid-cols-[84px_1fr_60px] items-center gap-2 text-[13px]" title={spec.says}>
      <span
        className="cursor-ew-resize touch-none truncate select-none"
        onDoubleClick={() => onCommit(spec.default)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, from: value, moved: false };
        }}
        onPointerMove={(e) => {
          if (!drag.current) return;
          drag.current.moved = true;
          onPreview(amount(e));
        }}
        onPointerUp={(e) => {
          if (drag.current?.moved) onCommit(amount(e));
          drag.current = undefined;
        }}
      >
        {spec.name}
      </span>
      <input
        type="range"
        className="range range-xs range-primary w-full"
        aria-label={wholeName}
        min={0}
        max={1}
        step={0.001}
        value={toSlider(value)}
        onChange={(e) => onPreview(fromSlider(Number(e.target.value)))}
        onPointerUp={(e) => onCommit(fromSlider(Number(e.currentTarget.value)))}
        onKeyUp={(e) => e.key.startsWith('Arrow') && onCommit(fromSlider(Number(e.currentTarget.value)))}
        onDoubleClick={() => onCommit(spec.default)}
      />
      <TypedNumber
        id={id}
        name={wholeName}
        spec={spec}
        value={value}
        fine={fine}
        hold={hold}
        onCommit={onCommit}
      />
    </div>
  );
}

type TypedProps = Pick<Props, 'id' | 'spec' | 'value' | 'onCommit'> & {
  name: string;
  fine: number;
  hold(v: number): number;
};

function TypedNumber({ id, name, spec, value, fine, hold, onCommit }: TypedProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = value === 0 && spec.at0 ? spec.at0 : spec.whole ? String(value) : formatNumber(value);
  const bad =
    typed !== null &&
    typed.trim() !== '' &&
    typed !== spec.at0 &&
    !Number.isFinite(Number(typed.replace(',', '.')));

  const finish = () => {
    if (typed !== null && !bad && typed.trim() !== '') {
      onCommit(typed === spec.at0 ? 0 : hold(Number(typed.replace(',', '.'))));
    }
    setTyped(null);
  };
  const keys = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.key === 'Enter') finish();
    else if (e.key === 'Escape') setTyped(null);
    else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      e.preventDefault();
      const by = fine * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
      onCommit(round(hold(value + by)));
      setTyped(null);
    }
  };
  return (
    <span className="relative">
      <input
        type="text"
        inputMode="decimal"
        data-value={id}
        aria-label={`${name}, as a number`}
        aria-invalid={bad}
        className={`input input-xs w-full text-right text-xs ${spec.unit === 'px' ? 'pr-5' : ''} ${bad ? 'input-error' : ''}`}
        value={typed ?? shown}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={finish}
        onKeyDown={keys}
      />
      {spec.unit === 'px' && (
        <span className="pointer-events-none absolute top-1/2 right-1.5 -translate-y-1/2 text-[10px] text-quiet">
          px
        </span>
      )}
    </span>
  );
}
