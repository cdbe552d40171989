import { type KeyboardEvent, useRef, useState } from 'react';
import type { NumberSpec } from '@/core/steps/shared/define';
import { within } from '@/core/time/track';
import { formatNumber, unitSign } from '../../parts/format-value';
import { RangeInput } from '../../parts/RangeInput';
import { type Hand, useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';

type Props = {
  id: string;
  spec: NumberSpec;
  value: number;
  /** What a double click brings back: the default of the declaration if it is not said. */
  usual?: number;
  /** While dragging; undefined once that is given up. */
  onPreview(value: number | undefined): void;
  /** When let go, typed or stepped. */
  onCommit(value: number): void;
};

/** Light and lengths are felt in ratios: their sliders give more room to small values. */
const curve = (spec: NumberSpec) =>
  spec.unit === 'ratio' || spec.unit === 'degrees' || spec.soft[0] < 0 ? 1 : 2;
const round = (v: number) => Number(v.toPrecision(6));

/** Name, slider with a soft range, and the number: typed, stepped by arrows (Shift ×10, Alt ÷10) or dragged. */
export function NumberField({ id, spec, value, usual = spec.default, onPreview, onCommit }: Props) {
  const [low, high] = spec.soft;
  const whole = (v: number) => (spec.whole ? Math.round(v) : v);
  const inside = (v: number) => within(spec, v);
  const toSlider = (v: number) => Math.max(0, (Math.min(v, high) - low) / (high - low)) ** (1 / curve(spec));
  const fromSlider = (p: number) => whole(round(low + (high - low) * p ** curve(spec)));
  const fine = spec.whole ? 1 : (high - low) / 100;

  const dragged = (from: number, hand: Hand) =>
    round(inside(from + hand.dx * fine * (hand.shiftKey ? 5 : hand.altKey ? 0.1 : 0.5)));
  const press = useDrag<{ from: number }>({
    start: () => ({ from: value }),
    preview: ({ from }, hand) => hand.moved && onPreview(dragged(from, hand)),
    commit: ({ from }, hand) => hand.moved && onCommit(dragged(from, hand)),
    cancel: () => onPreview(undefined),
  });

  const sign = unitSign[spec.unit];
  const wholeName = `${spec.name}${sign ? ` in ${sign}` : ''}`;
  const shown =
    value === 0 && spec.zeroLabel ? spec.zeroLabel : spec.whole ? String(value) : formatNumber(value);
  return (
    <div
      className="grid grid-cols-[110px_1fr_60px] items-center gap-1.5 text-[13px]"
      title={spec.description}
    >
      <span
        className="cursor-ew-resize touch-none truncate select-none"
        onDoubleClick={() => onCommit(usual)}
        onPointerDown={press}
      >
        {spec.name}
      </span>
      <RangeInput
        className="range range-xs range-primary w-full"
        aria-label={wholeName}
        aria-valuetext={`${shown} ${sign}`.trim()}
        min={0}
        max={1}
        step={0.001}
        value={toSlider(value)}
        onPreview={(p) => onPreview(fromSlider(p))}
        onCommit={(p) => onCommit(fromSlider(p))}
        onCancel={() => onPreview(undefined)}
        onDoubleClick={() => onCommit(usual)}
      />
      <TypedNumber
        id={id}
        name={wholeName}
        spec={spec}
        value={value}
        shown={shown}
        fine={fine}
        inside={inside}
        onCommit={onCommit}
      />
    </div>
  );
}

type TypedProps = Pick<Props, 'id' | 'spec' | 'value' | 'onCommit'> & {
  name: string;
  shown: string;
  fine: number;
  inside(v: number): number;
};

function TypedNumber({ id, name, spec, value, shown, fine, inside, onCommit }: TypedProps) {
  const [typed, setTyped] = useState<string | null>(null);
  /** Correction that was made to a typed number. */
  const [limited, setLimited] = useState('');
  const given = useRef(false);
  const numberOf = (text: string) => (text === spec.zeroLabel ? 0 : Number(text.replace(',', '.')));
  const bad = typed !== null && typed.trim() !== '' && !Number.isFinite(numberOf(typed));

  const take = () => {
    // Escape has given it up.
    if (given.current) given.current = false;
    else if (typed !== null && !bad && typed.trim() !== '') {
      const wanted = numberOf(typed);
      const to = inside(wanted);
      const bound =
        wanted > spec.to ? t`At most ${spec.to}.` : wanted < spec.from ? t`At least ${spec.from}.` : '';
      setLimited(bound || (to !== wanted ? t`Whole numbers only.` : ''));
      onCommit(to);
    }
    setTyped(null);
  };
  const keys = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.key === 'Enter') e.currentTarget.blur();
    else if (e.key === 'Escape') {
      given.current = typed !== null;
      e.currentTarget.blur();
    } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      const by = fine * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
      onCommit(round(inside(value + by)));
      setTyped(null);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <span className="relative">
      <input
        type="text"
        inputMode="decimal"
        data-value={id}
        aria-label={t`${name}, as a number`}
        aria-invalid={bad}
        className={`input input-xs w-full text-right text-xs ${spec.unit === 'px' ? 'pr-5' : ''} ${bad ? 'input-error' : ''}`}
        value={typed ?? shown}
        onFocus={(e) => {
          setLimited('');
          e.target.select();
        }}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={keys}
      />
      {spec.unit === 'px' && (
        <span className="pointer-events-none absolute top-1/2 right-1.5 -translate-y-1/2 text-[10px] text-quiet">
          {t`px`}
        </span>
      )}
      {limited && (
        <span
          role="status"
          className="pointer-events-none absolute right-0 bottom-full z-10 mb-0.5 rounded bg-base-300 px-1.5 py-0.5 text-[11px] whitespace-nowrap text-secondary"
        >
          {limited}
        </span>
      )}
    </span>
  );
}
