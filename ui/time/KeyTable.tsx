import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { useRefusing, useShot, useShotStore } from '@/browser/session/store';
import { changeEach, type KeyAt, moveKeys } from '@/core/finish/key-edits';
import {
  cellOf,
  type KeyRow,
  lanesOf,
  pasteTable,
  rowsOfKeys,
  toTsv,
  valueOfCell,
} from '@/core/finish/key-table';
import { type Interpolation, interpolations } from '@/core/time/keys';
import { goesBetween } from '@/core/time/track';
import { Options } from '../parts/Options';
import { saveFile } from '../parts/save-file';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';
import { chooseKeys, nameOf } from './use-chosen-keys';

const columns = {
  where: t`Value`,
  frame: t`Frame`,
  to: t`Is`,
  interpolation: t`Goes on by`,
  in: t`In`,
  out: t`Out`,
} as const;
type Column = keyof typeof columns;

const atOf = ({ of, key, held }: KeyRow): KeyAt => ({ of, key, frame: held.frame });
const pair = (h: readonly [number, number] | undefined) => (h ? h.join(' ') : '');

const sorting: Record<Column, (row: KeyRow) => string | number> = {
  where: (r) => `${r.strand} ${r.owner} ${r.name}`,
  frame: (r) => r.held.frame,
  to: (r) => (typeof r.held.value === 'number' ? r.held.value : cellOf(r.held.value)),
  interpolation: (r) => r.held.interpolation ?? 'ease',
  in: (r) => pair(r.held.in),
  out: (r) => pair(r.held.out),
};

/** Every key as a row: each cell is typed, and what is typed into a chosen row goes into all that are chosen and take it. */
export function KeyTable({ chosen }: { chosen: readonly KeyAt[] }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const store = useShotStore();
  const [by, setBy] = useState<{ column: Column; down: boolean }>();
  const rows = useMemo(() => {
    const all = rowsOfKeys(finish);
    if (!by) return all;
    const of = sorting[by.column];
    const sorted = all.sort((a, b) => {
      const [x, y] = [of(a), of(b)];
      return typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y));
    });
    return by.down ? sorted.reverse() : sorted;
  }, [finish, by]);
  const isChosen = new Set(chosen.map(nameOf));
  /** The rows that a change of one goes into. */
  const meant = (row: KeyRow) =>
    isChosen.has(nameOf(atOf(row))) ? rows.filter((r) => isChosen.has(nameOf(atOf(r)))) : [row];

  const setFrame = (row: KeyRow, text: string) => {
    const to = Number(text);
    if (text.trim() === '' || !Number.isInteger(to)) return t`A frame is a whole number.`;
    const keys = meant(row).map(atOf);
    const moved = to - row.held.frame;
    const refused = moved === 0 ? undefined : refusing((doc) => moveKeys(doc, keys, moved));
    if (moved !== 0 && !refused) chooseKeys(keys.map((k) => ({ ...k, frame: k.frame + moved })));
    return refused;
  };
  const setValue = (row: KeyRow, text: string) => {
    const value = valueOfCell(row.spec, text);
    if (value === undefined) return t`“${text}” is nothing that ${row.name} can be.`;
    const same = meant(row).filter((r) => r.spec.type === row.spec.type);
    return refusing((doc) => changeEach(doc, same.map(atOf), { value }));
  };
  const setHandle = (row: KeyRow, which: 'in' | 'out', text: string) => {
    const parts = text.trim() === '' ? undefined : text.trim().split(/\s+/).map(Number);
    if (parts && (parts.length !== 2 || !parts.every(Number.isFinite)))
      return t`A handle is two numbers: frames and value.`;
    edit((doc) => changeEach(doc, meant(row).map(atOf), { [which]: parts as [number, number] | undefined }));
  };
  const paste = (text: string) =>
    edit((doc) => {
      const { frame, selected } = store.getState();
      // Columns without names are meant for the values of the chosen keys, else for all that are shown.
      const lanes = lanesOf(doc).map(({ of, key }) => ({ of, key }));
      const meant = lanes.filter((l) => chosen.some((k) => k.of === l.of && k.key === l.key));
      return pasteTable(doc, text, { shown: meant.length > 0 ? meant : lanes, selected, playhead: frame });
    });
  const copy = async () => {
    const some = rows.filter((r) => isChosen.has(nameOf(atOf(r))));
    await navigator.clipboard.writeText(toTsv(some.length > 0 ? some : rows));
    toast.success(t`The table is on the clipboard, for a spreadsheet.`);
  };
  const save = () => {
    saveFile(`${finish.id}-keys.csv`, toTsv(rows).replaceAll('\t', ';'), 'text/csv');
  };
  const open = async (file: File | undefined) => file && paste(await file.text());

  return (
    <div
      className="min-h-0 flex-1 overflow-auto px-4 pb-2"
      onPaste={(e) => {
        const text = e.clipboardData.getData('text/plain');
        // Into a cell a word is pasted as a word.
        if (!/[\t\n;]|\d\s+\S/.test(text)) return;
        e.preventDefault();
        paste(text);
      }}
    >
      <table className="table table-xs table-pin-rows w-full text-xs" aria-label={t`Keys`}>
        <thead>
          <tr className="bg-base-200">
            <th className="w-6">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                aria-label={t`Choose all keys`}
                checked={rows.length > 0 && isChosen.size === rows.length}
                onChange={(e) => chooseKeys(e.target.checked ? rows.map(atOf) : [])}
              />
            </th>
            {(Object.keys(columns) as Column[]).map((column) => (
              <th
                key={column}
                aria-sort={by?.column === column ? (by.down ? 'descending' : 'ascending') : 'none'}
              >
                <button
                  type="button"
                  className="cursor-pointer font-normal text-quiet"
                  onClick={() => setBy({ column, down: by?.column === column && !by.down })}
                >
                  {columns[column]}
                  {by?.column === column && (by.down ? ' ↓' : ' ↑')}
                </button>
              </th>
            ))}
            <th className="text-right font-normal whitespace-nowrap">
              <button type="button" className="btn btn-ghost btn-xs font-normal" onClick={copy}>
                {t`Copy the table`}
              </button>
              <button type="button" className="btn btn-ghost btn-xs font-normal" onClick={save}>
                {t`Save as CSV`}
              </button>
              <label className="btn btn-ghost btn-xs font-normal">
                {t`Open CSV`}
                <input
                  type="file"
                  accept=".csv,.tsv,.txt,text/csv"
                  className="hidden"
                  onChange={(e) => open(e.target.files?.[0])}
                />
              </label>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const at = atOf(row);
            const name = nameOf(at);
            const on = isChosen.has(name);
            return (
              <tr key={name} className={on ? 'bg-primary/15' : ''} data-row={name}>
                <td>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={t`Choose the key of ${row.name} on frame ${row.held.frame}`}
                    checked={on}
                    onChange={(e) =>
                      chooseKeys(
                        e.target.checked ? [...chosen, at] : chosen.filter((k) => nameOf(k) !== name),
                      )
                    }
                  />
                </td>
                <td className="max-w-60 truncate" title={`${row.strand} › ${row.owner} › ${row.name}`}>
                  <span className="text-quiet">{row.owner} › </span>
                  {row.name}
                </td>
                <Cell
                  label={t`Frame of ${row.name}`}
                  value={String(row.held.frame)}
                  onCommit={(t) => setFrame(row, t)}
                />
                <Cell
                  label={t`${row.name} on frame ${row.held.frame}`}
                  value={cellOf(row.held.value)}
                  wide
                  onCommit={(t) => setValue(row, t)}
                />
                <td>
                  {goesBetween(row.spec.type) ? (
                    <select
                      className="select select-xs w-22"
                      aria-label={t`Interpolation of ${row.name} on frame ${row.held.frame}`}
                      value={row.held.interpolation ?? 'ease'}
                      onChange={(e) =>
                        edit((doc) =>
                          changeEach(doc, meant(row).map(atOf), {
                            interpolation: e.target.value as Interpolation,
                          }),
                        )
                      }
                    >
                      <Options of={interpolations} />
                    </select>
                  ) : (
                    <span className="text-quiet">{t`Hold`}</span>
                  )}
                </td>
                {(['in', 'out'] as const).map((which) => (
                  <Cell
                    key={which}
                    label={t`Handle ${which} of ${row.name} on frame ${row.held.frame}`}
                    value={pair(row.held[which])}
                    onCommit={(t) => setHandle(row, which, t)}
                  />
                ))}
                <td />
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

type CellProps = { label: string; value: string; wide?: boolean; onCommit(text: string): string | undefined };

const Cell = ({ wide, ...field }: CellProps) => (
  <td>
    <TextField {...field} selects className={`input input-xs ${wide ? 'w-36' : 'w-20'}`} />
  </td>
);
