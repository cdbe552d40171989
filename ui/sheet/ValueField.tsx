import { Pipette } from 'lucide-react';
import type { Rgb } from '@/core/math/rgb';
import type { ColoursSpec, Value, ValueSpec } from '@/core/steps/define';
import { formatNumber, formatValue, toHex } from '../parts/format-value';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { TextField } from '../parts/TextField';
import { Toggle } from '../parts/Toggle';
import { t } from '../words/words';
import { ColourField, swatch } from './ColourField';
import { NumberField } from './NumberField';
import { RowsField } from './RowsField';

type Props = {
  id: string;
  spec: ValueSpec;
  value: Value;
  /** While it is changed; undefined once that is given up. */
  onPreview(value: Value | undefined): void;
  /** Gives the reason where it cannot be taken. */
  onCommit(value: Value): string | undefined;
  /** Lets the user pick a colour on the picture, in place of the value or added to it. */
  onPick?(adds: boolean): void;
};

/** The control that a value's declaration asks for. */
export function ValueField({ id, spec, value, onPreview, onCommit, onPick }: Props) {
  switch (spec.type) {
    case 'number':
      return (
        <NumberField id={id} spec={spec} value={value as number} onPreview={onPreview} onCommit={onCommit} />
      );
    case 'toggle':
      return (
        <Toggle label={spec.name} title={spec.description} checked={value as boolean} onChange={onCommit} />
      );
    case 'choice':
      return (
        <label className="flex items-center gap-2 text-[13px]" title={spec.description}>
          {spec.name}
          <select
            className="select select-xs ml-auto w-44 pr-6 text-xs text-ellipsis"
            value={value as string}
            onChange={(e) => onCommit(e.target.value)}
          >
            <Options of={spec.options} />
          </select>
        </label>
      );
    case 'text':
      return (
        <div className="grid gap-1 text-[13px]" title={spec.description}>
          {spec.name}
          <TextField
            label={spec.name}
            className="textarea textarea-xs w-full text-[13px]"
            lines={2}
            rest={400}
            value={value as string}
            onPreview={onPreview}
            onCommit={onCommit}
          />
        </div>
      );
    case 'colour':
      return (
        <ColourField
          spec={spec}
          value={value as Rgb}
          onPreview={onPreview}
          onCommit={onCommit}
          onPick={onPick && (() => onPick(false))}
        />
      );
    case 'rows':
      return (
        <RowsField
          spec={spec}
          value={value as readonly (readonly number[])[]}
          onPreview={onPreview}
          onCommit={onCommit}
        />
      );
    case 'path':
      return (
        <span className="flex text-[13px]" title={spec.description}>
          {spec.name}
          <span className="ml-auto text-quiet">{formatValue(spec, value)}</span>
        </span>
      );
    case 'colours':
      return <ColoursField spec={spec} value={value as readonly Rgb[]} onCommit={onCommit} onPick={onPick} />;
  }
}

/** Several linear colours: picked on the picture one after the other, each taken out by a click. */
function ColoursField({
  spec,
  value,
  onCommit,
  onPick,
}: {
  spec: ColoursSpec;
  value: readonly Rgb[];
  onCommit(value: Value): void;
  onPick?(adds: boolean): void;
}) {
  return (
    <div className="flex items-start gap-2 text-[13px]" title={spec.description}>
      {spec.name}
      <span className="ml-auto flex flex-wrap justify-end gap-1">
        {value.map((colour, i) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: colours may be the same
            key={i}
            type="button"
            className={`${swatch} cursor-pointer disabled:cursor-default`}
            style={{ background: toHex(colour) }}
            aria-label={t`Colour ${colour.map(formatNumber).join(' ')}, remove`}
            title={t`${colour.map(formatNumber).join(' ')}: click to remove it`}
            disabled={value.length === 1}
            onClick={() => onCommit(value.filter((_, k) => k !== i))}
          />
        ))}
        {onPick && value.length < spec.most && (
          <IconButton
            icon={Pipette}
            label={t`Pick another colour on the picture`}
            onClick={() => onPick(true)}
          />
        )}
      </span>
    </div>
  );
}
