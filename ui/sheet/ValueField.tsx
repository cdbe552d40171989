import { HexColorPicker } from 'react-colorful';
import { decodeSrgb, encodeSrgb } from '@/core/colour/srgb';
import type { ColourSpec, Rgb, Value, ValueSpec } from '@/core/steps/define';
import { formatNumber } from '../parts/format-value';
import { Options } from '../parts/Options';
import { NumberField } from './NumberField';

type Props = {
  id: string;
  spec: ValueSpec;
  value: Value;
  onPreview(value: Value): void;
  onCommit(value: Value): void;
};

/** The control that a value's declaration asks for. */
export function ValueField({ id, spec, value, onPreview, onCommit }: Props) {
  switch (spec.type) {
    case 'number':
      return (
        <NumberField id={id} spec={spec} value={value as number} onPreview={onPreview} onCommit={onCommit} />
      );
    case 'toggle':
      return (
        <label className="flex cursor-pointer items-center text-[13px]" title={spec.says}>
          {spec.name}
          <input
            type="checkbox"
            className="toggle toggle-xs toggle-primary ml-auto"
            checked={value as boolean}
            onChange={(e) => onCommit(e.target.checked)}
          />
        </label>
      );
    case 'choice':
      return (
        <label className="flex items-center gap-2 text-[13px]" title={spec.says}>
          {spec.name}
          <select
            className="select select-xs ml-auto text-xs w-40"
            value={value as string}
            onChange={(e) => onCommit(e.target.value)}
          >
            <Options of={spec.options} />
          </select>
        </label>
      );
    case 'colour':
      return <ColourField spec={spec} value={value as Rgb} onPreview={onPreview} onCommit={onCommit} />;
  }
}

const toHex = (c: Rgb) =>
  `#${c
    .map((v) =>
      Math.round(Math.min(1, encodeSrgb(v)) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
const fromHex = (hex: string): Rgb =>
  [1, 3, 5].map((i) =>
    Number(decodeSrgb(Number.parseInt(hex.slice(i, i + 2), 16) / 255).toFixed(5)),
  ) as unknown as Rgb;

type ColourProps = {
  spec: ColourSpec;
  value: Rgb;
  onPreview(value: Value): void;
  onCommit(value: Value): void;
};

/** A linear colour: a swatch that opens a picker, and its three numbers. */
function ColourField({ spec, value, onPreview, onCommit }: ColourProps) {
  return (
    <details className="text-[13px]" title={spec.says}>
      <summary className="flex cursor-pointer list-none items-center gap-2">
        {spec.name}
        <span className="ml-auto text-xs text-quiet">{value.map(formatNumber).join('  ')}</span>
        <span className="h-4 w-7 rounded border border-line" style={{ background: toHex(value) }} />
      </summary>
      <div
        className="mt-2"
        onPointerUp={() => onCommit(value)}
        onKeyUp={() => onCommit(value)}
        onDoubleClick={() => onCommit(spec.default)}
      >
        <HexColorPicker
          color={toHex(value)}
          onChange={(hex) => onPreview(fromHex(hex))}
          style={{ width: '100%', height: 130 }}
        />
      </div>
    </details>
  );
}
