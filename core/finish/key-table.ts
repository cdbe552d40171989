import type { Value, ValueSpec } from '../steps/shared/define';
import { type Interpolation, interpolations, type Key } from '../time/keys';
import { type Animated, animatedOf, findAnimated } from './animated';
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
export function lanesOf(doc: Finish): Lane[] {
  const all = animatedOf(doc);
  const owners = namesApart(all.map((a) => ({ id: a.id, name: a.name, strand: a.strand.name })));
  return all.flatMap(({ id, strand, specs, holder }) =>
    Object.keys(holder.animation ?? {}).flatMap((key) => {
      const spec = specs[key];
      return spec
        ? [{ strand: strand.name, of: id, owner: owners.get(id)!, key, name: spec.name, spec }]
        : [];
    }),
  );
}

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

const handle = (h: readonly [number, number] | undefined) => (h ? h.map(short).join(' ') : '');
const columns = ['step', 'value', 'frame', 'to', 'interpolation', 'in', 'out'] as const;

/** Six significant digits: more than any hand, and none of a float's tail. */
const short = (v: number) => Number(v.toPrecision(6));
const shortened = (value: Value): Value =>
  typeof value === 'number'
    ? short(value)
    : Array.isArray(value)
      ? (value.map((v) => (typeof v === 'object' && !Array.isArray(v) ? v : shortened(v as Value))) as never)
      : value;

/** A line for each key: the address of the step, the value's key, the frame, what it is, how it goes on, and its handles. */
export const toTsv = (rows: readonly KeyRow[]): string =>
  [
    columns.join('\t'),
    ...rows.map(({ of, key, held }) =>
      [
        of,
        key,
        held.frame,
        cellOf(shortened(held.value)).replace(/[\t\n\r]+/g, ' '),
        held.interpolation ?? 'ease',
        handle(held.in),
        handle(held.out),
      ].join('\t'),
    ),
  ].join('\n');

/** What a pasted table may leave unsaid. */
export type PasteInto = {
  /** The values that columns without names are meant for, in their order. */
  shown?: readonly { of: string; key: string }[];
  /** The step or strand whose values may be named alone. */
  selected?: string;
  /** Where frames with a sign are counted from. */
  playhead?: number;
};

const plain = (text: string) => text.trim().toLowerCase();

/** Lines of cells: by tabs, semicolons or commas; else numbers with spaces between them, whose commas are decimal. */
function cellsOf(lines: readonly string[]): string[][] {
  const unquoted = (c: string) => c.trim().replace(/^"(.*)"$/, '$1');
  const separator = ['\t', ';'].find((c) => lines.some((line) => line.includes(c)));
  const isSpaced =
    !separator && lines.every((line) => /^\s*\S+(\s+\S+)+\s*$/.test(line) && !/,\s/.test(line));
  return lines.map((line) =>
    (isSpaced ? line.trim().split(/\s+/) : line.split(separator ?? ',')).map(unquoted),
  );
}

/** Columns of a first line that names them, in English as they are on the screen or in the file. */
const headings: Record<string, (typeof columns)[number]> = {
  step: 'step',
  of: 'step',
  value: 'value',
  name: 'value',
  frame: 'frame',
  to: 'to',
  is: 'to',
  interpolation: 'interpolation',
  'goes on by': 'interpolation',
  in: 'in',
  out: 'out',
};

type Refuse = (problem: string, remedy?: string) => FinishError;

/** What a cell names: by its address, or by its name on the screen, with its strand before it where two have the same. */
function animatedNamed(doc: Finish, cell: string, refuse: Refuse): Animated {
  const exact = findAnimated(doc, cell);
  if (exact) return exact;
  const found = animatedOf(doc).filter(
    (a) => plain(a.name) === plain(cell) || plain(`${a.strand.name} › ${a.name}`) === plain(cell),
  );
  if (found.length === 1) return found[0];
  if (found.length === 0) throw refuse(`There is no step “${cell}”`);
  throw refuse(
    `${found.length} steps are called “${cell}”`,
    `Write one of ${found.map((a) => `${a.strand.name} › ${a.name} (${a.id})`).join(', ')}.`,
  );
}

/** The key of a value by its key or its name on the screen. */
function keyNamed({ specs, name }: Animated, cell: string, refuse: Refuse): string {
  if (Object.hasOwn(specs, cell)) return cell;
  const found = Object.keys(specs).find((key) => plain(specs[key].name) === plain(cell));
  if (found === undefined) throw refuse(`${name} has no value “${cell}”`);
  return found;
}

/** The value that a column of its own is called by. */
function valueNamed(doc: Finish, cell: string, { shown = [], selected }: PasteInto, refuse: Refuse) {
  const [owner, name] = cell.includes('›') ? cell.split(/›(?=[^›]*$)/) : ['', cell];
  if (owner) {
    const of = animatedNamed(doc, owner.trim(), refuse);
    return { of: of.id, key: keyNamed(of, name.trim(), refuse) };
  }
  const isCalled = ({ of, key }: { of: string; key: string }) => {
    const spec = findAnimated(doc, of)?.specs[key];
    return key === cell || (spec !== undefined && plain(spec.name) === plain(cell));
  };
  const known = shown.filter(isCalled);
  if (known.length === 1) return known[0];
  const own = selected === undefined ? undefined : findAnimated(doc, selected);
  if (own) return { of: own.id, key: keyNamed(own, cell, refuse) };
  throw refuse(
    known.length === 0
      ? `No value that is shown is called “${cell}”`
      : `${known.length} values are called “${cell}”`,
    'Write the step before it: Bloom › Amount.',
  );
}

/**
 * Keys of a table, put among those that are there; one on the same frame makes way. A table has a line for each key (`toTsv`), or a column of frames and
 * one for each value: those that its first line names, else those that are `shown`. Frames with a sign count from the playhead; commas may be decimal.
 * @throws {FinishError} naming the line.
 */
export function pasteTable(doc: Finish, text: string, into: PasteInto = {}): Edit {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const at =
    (n: number): Refuse =>
    (problem, remedy = `Columns are ${columns.join(', ')}; or frame, and a value each.`) =>
      new FinishError(problem, `line ${n + 1}`, remedy);
  if (lines.length === 0) throw at(0)('There are no keys in this text');
  const table = cellsOf(lines);
  const isRelative = table.some((cells) => cells.some((c) => /^\+\d+$/.test(c)));
  const frameIn = (cell: string | undefined, refuse: Refuse): number => {
    const frame = Number(cell);
    if (!cell || !Number.isInteger(frame)) throw refuse(`“${cell ?? ''}” is no frame`);
    return isRelative && into.playhead !== undefined ? into.playhead + frame : frame;
  };
  const valueIn = (spec: ValueSpec, cell: string, refuse: Refuse): Value => {
    const value = valueOfCell(spec, cell);
    if (value === undefined) throw refuse(`“${cell}” is nothing that ${spec.name} can be`);
    return value;
  };
  const specOfValue = ({ of, key }: { of: string; key: string }) => findAnimated(doc, of)!.specs[key];

  const known = table[0].map((c) => headings[plain(c)]);
  const isByLine = known.includes('step') && known.includes('value');
  const isByColumn = !isByLine && known[0] === 'frame' && table[0].length > 1;
  const isBare = !isByLine && !isByColumn && table.every((cells) => /^[+-]?\d+$/.test(cells[0] ?? ''));

  type Found = { address: string; key: string; held: Key<Value> };
  const found: Found[] = [];
  if (isByColumn || isBare) {
    const count = Math.max(...table.map((cells) => cells.length)) - 1;
    const values = isByColumn
      ? table[0]
          .slice(1)
          .map(
            (cell, i) =>
              (headings[plain(cell)] === 'to' && into.shown?.[i]) || valueNamed(doc, cell, into, at(0)),
          )
      : [...(into.shown ?? [])];
    if (values.length !== count)
      throw at(0)(
        `The table has ${count} columns of values, and ${values.length} are shown`,
        'Name the values in a first line (frame, Amount), or choose keys of those that are meant.',
      );
    for (const [n, cells] of table.entries()) {
      if (n === 0 && isByColumn) continue;
      for (const [i, value] of values.entries()) {
        const cell = cells[i + 1] ?? '';
        if (cell === '') continue;
        const held = { frame: frameIn(cells[0], at(n)), value: valueIn(specOfValue(value), cell, at(n)) };
        found.push({ address: value.of, key: value.key, held });
      }
    }
  } else {
    const order = isByLine && known.includes('frame') && known.includes('to') ? known : [...columns];
    for (const [n, cells] of table.entries()) {
      if (n === 0 && (isByLine || cells[0] === columns[0])) continue;
      const refuse = at(n);
      const cell = (column: (typeof columns)[number]) => cells[order.indexOf(column)] ?? '';
      const of = animatedNamed(doc, cell('step'), refuse);
      const key = keyNamed(of, cell('value'), refuse);
      const frame = frameIn(cell('frame'), refuse);
      const value = valueIn(of.specs[key], cell('to'), refuse);
      const said = cell('interpolation');
      const interpolation = Object.keys(interpolations).find(
        (i) => i === said || plain(interpolations[i as Interpolation]) === plain(said),
      );
      if (said && !interpolation) throw refuse(`“${said}” is no interpolation`);
      const handles = [cell('in'), cell('out')].map((h) => (h === '' ? undefined : numbers(h)));
      if (handles.some((h) => h && (h.length !== 2 || !h.every(Number.isFinite))))
        throw refuse('A handle is two numbers, frames and value');
      const held: Key<Value> = {
        frame,
        value,
        ...(interpolation ? { interpolation: interpolation as Interpolation } : {}),
        ...(handles[0] ? { in: handles[0] as [number, number] } : {}),
        ...(handles[1] ? { out: handles[1] as [number, number] } : {}),
      };
      found.push({ address: of.id, key, held });
    }
  }
  if (found.length === 0) throw at(0)('There are no keys in this text');
  return edit(`paste ${found.length === 1 ? 'a key' : `${found.length} keys`}`, (draft) => {
    for (const { address, key, held } of found) putKey(changing(draft, address), key, held);
  });
}

/** Names that tell things apart where several have the same: with their strand, or with a number. */
export function namesApart(
  items: readonly { id: string; name: string; strand: string }[],
): ReadonlyMap<string, string> {
  const names = new Map<string, string>();
  for (const item of items) {
    const same = items.filter((i) => i.name === item.name);
    const onStrand = same.filter((i) => i.strand === item.strand);
    const number = onStrand.length > 1 ? ` ${onStrand.indexOf(item) + 1}` : '';
    const where = same.length > onStrand.length ? `, ${item.strand}` : '';
    names.set(item.id, same.length === 1 ? item.name : `${item.name}${number}${where}`);
  }
  return names;
}
