import { Pipette } from 'lucide-react';
import { useState } from 'react';
import type { Rgb } from '@/core/math/rgb';
import type { ColoursSpec, Value, ValueSpec } from '@/core/steps/shared/define';
import { formatNumber, formatValue, toHex } from '../../parts/format-value';
import { IconButton } from '../../parts/IconButton';
import { Options } from '../../parts/Options';
import { TextField } from '../../parts/TextField';
import { Toggle } from '../../parts/Toggle';
import { t } from '../../words/words';
import { ColourField, swatch } from './ColourField';
import { NumberField } from './NumberField';
import { RowsField } from './RowsField';

type Props = {
  id: string;
  spec: ValueSpec;
  value: Value;
  /** What a double click brings back: the default of the declaration if it is not said. */
  usual?: Value;
  /** While it is changed; undefined once that is given up. Gives the reason where it cannot be taken. */
  onPreview(value: Value | undefined): string | undefined;
  /** Gives the reason where it cannot be taken. */
  onCommit(value: Value): string | undefined;
  /** Lets the user pick a colour on the picture, in place of the value or added to it. */
  onPick?(adds: boolean): void;
};

/** The control that a value's declaration asks for, and below it why what was asked for is refused. */
export function ValueField({ onPreview, onCommit, ...field }: Props) {
  const [refused, setRefused] = useState<string>();
  // A field of words has its own way to say so: what was typed stays in it.
  if (field.spec.type === 'text') return <Control {...field} onPreview={onPreview} onCommit={onCommit} />;
  const preview = (value: Value | undefined) => {
    const why = onPreview(value);
    // What is given up is refused no more; while one drags on the reason stays.
    if (value !== undefined) setRefused(why);
    return why;
  };
  const commit = (value: Value) => {
    const why = onCommit(value);
    setRefused(why);
    return why;
  };
  return (
    <div className="min-w-0" onFocus={() => setRefused(undefined)}>
      <Control {...field} onPreview={preview} onCommit={commit} />
      {refused && (
        <p role="alert" className="text-xs text-error" data-refused={field.id}>
          {refused}
        </p>
      )}
    </div>
  );
}

function Control({ id, spec, value, usual, onPreview, onCommit, onPick }: Props) {
  switch (spec.type) {
    case 'number':
      return (
        <NumberField
          id={id}
          spec={spec}
          value={value as number}
          usual={usual as number | undefined}
          onPreview={onPreview}
          onCommit={onCommit}
        />
      );
    case 'toggle':
      return (
        <Toggle label={spec.name} title={spec.description} checked={value as boolean} onChange={onCommit} />
      );
    case 'choice':
      return (
        <label className="flex items-center gap-2 text-[13px]" title={spec.description}>
          <span className="whitespace-nowrap">{spec.name}</span>
          <select
            className="select select-xs ml-auto w-44 min-w-0 pr-6 text-xs text-ellipsis"
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
