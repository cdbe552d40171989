import { Pipette } from 'lucide-react';
import { useRef } from 'react';
import { HexColorPicker } from 'react-colorful';
import { linearOfHex } from '@/core/colour/srgb';
import type { Rgb } from '@/core/math/rgb';
import type { ColourSpec, NumberSpec } from '@/core/steps/shared/define';
import { formatNumber, toHex } from '../../parts/format-value';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { NumberField } from './NumberField';

type Props = {
  spec: ColourSpec;
  value: Rgb;
  /** While it is picked; undefined once that is given up. */
  onPreview(value: Rgb | undefined): void;
  onCommit(value: Rgb): void;
  onPick?(): void;
};

export const swatch = 'h-4 w-7 rounded border border-line';
const parts = [t`Red`, t`Green`, t`Blue`] as const;
const most = 65504;

/** How much brighter than the picker can show a colour is: its gain beyond 1, which the picker leaves as it is. */
const gainOf = (colour: Rgb) => Math.max(1, ...colour);
const scaled = (colour: readonly number[], by: number) =>
  colour.map((v) => Number((v * by).toFixed(5))) as unknown as Rgb;

/** A linear colour: a swatch that opens a picker of its hue, and its three numbers, also above 1. */
export function ColourField({ spec, value, onPreview, onCommit, onPick }: Props) {
  const picked = useRef<Rgb | undefined>(undefined);
  /** The hand still moves what was given up. */
  const givenUp = useRef(false);
  const gain = gainOf(value);
  const pick = (hex: string) => {
    if (givenUp.current) return;
    picked.current = scaled(linearOfHex(hex), gain);
    onPreview(picked.current);
  };
  const commit = () => {
    if (picked.current) onCommit(picked.current);
    picked.current = undefined;
  };
  const cancel = () => {
    givenUp.current = true;
    picked.current = undefined;
    onPreview(undefined);
  };
  // The picker itself follows the hand; when and whether its colour counts is said here, wherever the hand lets go.
  const press = useDrag<true>({
    passive: true,
    start: () => {
      givenUp.current = false;
      return true;
    },
    preview: () => {},
    commit,
    cancel,
  });
  const part = (name: string): NumberSpec => ({
    type: 'number',
    section: spec.section,
    name,
    description: t`${name} of ${spec.name}, in linear light.`,
    unit: 'light',
    default: 1,
    from: 0,
    to: most,
    soft: [0, Math.max(1, gain)],
  });
  const withPart = (i: number, v: number) => value.map((c, k) => (k === i ? v : c)) as unknown as Rgb;
  return (
    <div className="flex items-start gap-1 text-[13px]" title={spec.description}>
      <details className="min-w-0 flex-1">
        <summary className="flex min-h-6 cursor-pointer list-none items-center gap-2">
          {spec.name}
          <span className="ml-auto text-xs text-quiet">{value.map(formatNumber).join('  ')}</span>
          <span className={swatch} style={{ background: toHex(scaled(value, 1 / gain)) }} />
        </summary>
        <div
          className="mt-2"
          data-testid="colour-picker"
          onPointerDownCapture={press}
          onKeyDown={() => {
            givenUp.current = false;
          }}
          onKeyUp={commit}
          onDoubleClick={() => onCommit(spec.default)}
        >
          <HexColorPicker
            color={toHex(scaled(value, 1 / gain))}
            onChange={pick}
            style={{ width: '100%', height: 130 }}
          />
        </div>
        <div className="mt-2 grid gap-1">
          {parts.map((name, i) => (
            <NumberField
              key={name}
              id={`${spec.name.toLowerCase()}-${name.toLowerCase()}`}
              spec={part(name)}
              value={value[i]}
              onPreview={(v) => onPreview(v === undefined ? undefined : withPart(i, v))}
              onCommit={(v) => onCommit(withPart(i, v))}
            />
          ))}
        </div>
      </details>
      {onPick && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={t`Pick ${spec.name} on the picture`}
          title={t`Pick ${spec.name} on the picture`}
          onClick={onPick}
        >
          <Pipette size={14} />
        </button>
      )}
    </div>
  );
}
