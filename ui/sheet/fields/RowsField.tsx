import { Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { RowsSpec, Value } from '@/core/steps/shared/define';
import { formatNumber } from '../../parts/format-value';
import { IconButton } from '../../parts/IconButton';
import { t } from '../../words/words';
import { NumberField } from './NumberField';

type Rows = readonly (readonly number[])[];
type Props = {
  spec: RowsSpec;
  value: Rows;
  onPreview(value: Value | undefined): void;
  onCommit(value: Value): void;
};

/** A small table of numbers: a row is opened to be changed; whole tables to start from. */
export function RowsField({ spec, value, onPreview, onCommit }: Props) {
  const [open, setOpen] = useState<number | null>(null);
  const columns = Object.entries(spec.columns);
  const changed = (row: number, column: number, v: number): Rows =>
    value.map((r, i) => (i === row ? r.map((n, k) => (k === column ? v : n)) : r));
  return (
    <div className="grid gap-1 text-[13px]" title={spec.description}>
      <div className="flex items-center gap-1">
        <span className="mr-auto">{spec.name}</span>
        <select
          className="select select-xs w-32"
          aria-label={t`Load a preset`}
          value=""
          onChange={(e) => {
            setOpen(null);
            onCommit(spec.sets[e.target.value].rows);
          }}
        >
          <option value="">{t`Start from…`}</option>
          {Object.entries(spec.sets).map(([key, set]) => (
            <option key={key} value={key}>
              {set.name}
            </option>
          ))}
        </select>
        <IconButton
          icon={Plus}
          label={t`Add a row`}
          disabled={value.length >= spec.most}
          onClick={() => {
            setOpen(value.length);
            onCommit([...value, columns.map(([, c]) => c.default)]);
          }}
        />
      </div>
      <ol className="grid gap-0.5">
        {value.map((row, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
          <li key={i} className={open === i ? 'rounded bg-base-200 pb-1.5' : ''}>
            <div className="flex items-center">
              <button
                type="button"
                className="min-w-0 flex-1 cursor-pointer truncate px-2 text-left text-xs text-quiet hover:text-base-content"
                aria-expanded={open === i}
                onClick={() => setOpen(open === i ? null : i)}
              >
                {columns
                  .slice(0, 3)
                  .map(([, c], k) => `${c.name} ${formatNumber(row[k])}`)
                  .join('   ')}
              </button>
              <IconButton
                icon={Trash2}
                label={t`Remove row ${i + 1}`}
                onClick={() => {
                  setOpen(null);
                  onCommit(value.filter((_, k) => k !== i));
                }}
              />
            </div>
            {open === i && (
              <div className="grid gap-1 px-2">
                {columns.map(([key, c], k) => (
                  <NumberField
                    key={key}
                    id={`${i}-${key}`}
                    spec={c}
                    value={row[k]}
                    onPreview={(v) => onPreview(v === undefined ? undefined : changed(i, k, v))}
                    onCommit={(v) => onCommit(changed(i, k, v))}
                  />
                ))}
              </div>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}
