import type { Value, ValueSpec } from '../steps/define';
import { type Interpolation, interpolations, type Key } from '../time/keys';
import { animatedOf, findAnimated } from './animated';
import { type Edit, edit } from './edit';
import { type Finish, FinishError } from './finish';
import { changing, putKey } from './key-edits';

/** Keys as a table, for eyes and for spreadsheets: text with tabs between cells and a line for each key. */

/** A value that changes over time, and where it is. */
export type Lane = {
  strand: string;
  /** The address of what has it, and its name. */
  of: string;
  owner: string;
  key: string;
  name: string;
  spec: ValueSpec;
};
export type KeyRow = Lane & { held: Key<Value> };

/** The values of a document that have a track, in the order of its strands and steps. What a linked copy follows stands once. */
export const lanesOf = (doc: Finish): Lane[] =>
  animatedOf(doc).flatMap(({ id, name, strand, specs, holder }) =>
    Object.keys(holder.animation ?? {}).flatMap((key) => {
      const spec = specs[key];
      return spec ? [{ strand: strand.name, of: id, owner: name, key, name: spec.name, spec }] : [];
    }),
  );

export const rowsOfKeys = (doc: Finish, lanes: readonly Lane[] = lanesOf(doc)): KeyRow[] =>
  lanes.flatMap((lane) => {
    const keys = findAnimated(doc, lane.of)?.holder.animation?.[lane.key]?.keys ?? [];
    return keys.map((held) => ({ ...lane, held: held as Key<Value> }));
  });

const isPath = (list: readonly unknown[]) => typeof list[0] === 'object' && !Array.isArray(list[0]);

/** A value as it stands in a cell: the numbers of a colour with spaces between them, rows with semicolons, a path as JSON. */
export function cellOf(value: Value): string {
  if (!Array.isArray(value)) return String(value);
  const list = value as readonly (number | readonly number[] | object)[];
  if (isPath(list)) return JSON.stringify(list);
  return list
    .map((v) => (Array.isArray(v) ? v.join(' ') : String(v)))
    .join(Array.isArray(list[0]) ? '; ' : ' ');
}

const numbers = (text: string): number[] =>
  text
    .trim()
    .split(/\s+/)
    .map((n) => Number(n.replace(',', '.')));

/** The value that a cell says; undefined where it says none of its kind. Bounds are left to the document. */
export function valueOfCell(spec: ValueSpec, text: string): Value | undefined {
  const said = text.trim();
  switch (spec.type) {
    case 'number': {
      const [value, ...more] = numbers(said);
      return said !== '' && more.length === 0 && Number.isFinite(value) ? value : undefined;
    }
    case 'toggle':
      return said === 'true' ? true : said === 'false' ? false : undefined;
    case 'choice': {
      const found = Object.entries(spec.options).find(([key, name]) => key === said || name === said);
      return found?.[0];
    }
    case 'text':
      return text;
    case 'colour': {
      const parts = numbers(said);
      return parts.length === 3 && parts.every(Number.isFinite) ? (parts as unknown as Value) : undefined;
    }
    case 'path':
      try {
        const points: unknown = JSON.parse(said);
        return Array.isArray(points) ? (points as Value) : undefined;
      } catch {
        return undefined;
      }
    case 'colours':
    case 'rows': {
      const rows = said === '' ? [] : said.split(';').map(numbers);
      return rows.every((row) => row.every(Number.isFinite)) ? (rows as unknown as Value) : undefined;
    }
  }
}

const handle = (h: readonly [number, number] | undefined) => (h ? h.join(' ') : '');
const columns = ['step', 'value', 'frame', 'to', 'interpolation', 'in', 'out'] as const;

/** A line for each key: the address of the step, the value's key, the frame, what it is, how it goes on, and its handles. */
export const toTsv = (rows: readonly KeyRow[]): string =>
  [
    columns.join('\t'),
    ...rows.map(({ of, key, held }) =>
      [
        of,
        key,
        held.frame,
        cellOf(held.value).replace(/[\t\n\r]+/g, ' '),
        held.interpolation ?? 'ease',
        handle(held.in),
        handle(held.out),
      ].join('\t'),
    ),
  ].join('\n');

/**
 * Keys of a table, put among those that are there; one on the same frame makes way. A first line with the names of the columns is left out; commas or
 * semicolons may stand in place of tabs. @throws {FinishError} naming the line.
 */
export function pasteTable(doc: Finish, text: string): Edit {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const refuse = (n: number, problem: string) =>
    new FinishError(problem, `line ${n + 1}`, `Columns are ${columns.join(', ')}.`);
  const separator = lines[0]?.includes('\t') ? '\t' : lines[0]?.includes(';') ? ';' : ',';
  const found = lines.flatMap((line, n) => {
    const cells = line.split(separator).map((c) => c.trim().replace(/^"(.*)"$/, '$1'));
    if (n === 0 && cells[0] === columns[0]) return [];
    const [address, key, frameText, valueText = '', interpolation = '', into = '', out = ''] = cells;
    const found = findAnimated(doc, address);
    if (!found) throw refuse(n, `There is no step “${address}”`);
    const spec = Object.hasOwn(found.specs, key ?? '') ? found.specs[key] : undefined;
    if (!spec) throw refuse(n, `${found.name} has no value “${key}”`);
    const frame = Number(frameText);
    if (!frameText || !Number.isInteger(frame)) throw refuse(n, `“${frameText}” is no frame`);
    const value = valueOfCell(spec, valueText);
    if (value === undefined) throw refuse(n, `“${valueText}” is nothing that ${spec.name} can be`);
    if (interpolation && !Object.hasOwn(interpolations, interpolation))
      throw refuse(n, `“${interpolation}” is no interpolation`);
    const handles = [into, out].map((h) => (h === '' ? undefined : numbers(h)));
    if (handles.some((h) => h && (h.length !== 2 || !h.every(Number.isFinite))))
      throw refuse(n, 'A handle is two numbers, frames and value');
    const held: Key<Value> = {
      frame,
      value,
      ...(interpolation ? { interpolation: interpolation as Interpolation } : {}),
      ...(handles[0] ? { in: handles[0] as [number, number] } : {}),
      ...(handles[1] ? { out: handles[1] as [number, number] } : {}),
    };
    return [{ address, key, held }];
  });
  if (found.length === 0) throw refuse(0, 'There are no keys in this text');
  return edit(`paste ${found.length === 1 ? 'a key' : `${found.length} keys`}`, (draft) => {
    for (const { address, key, held } of found) putKey(changing(draft, address), key, held);
  });
}
