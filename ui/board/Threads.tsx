import { pointIndex, type Strand } from '@/core/finish/finish';
import { headTaps } from '@/core/finish/graph';
import type { Kind } from '@/core/picture/kind';
import { bottomOf, type Column, headHeight, rowY, stepHeight, threadX } from './geometry';

type Props = {
  columns: readonly Column[];
  rows: Map<string, number>;
  /** Kinds of each strand after its head and each step. */
  kinds: Map<string, readonly Kind[]>;
  selected?: string;
  /** Ids of what is not faded; without, all. */
  feeding?: ReadonlySet<string>;
  endY: number;
  first: number;
  last: number;
};

/** Kind by line: picture solid, matte dashed, data dotted. */
const dashes = { picture: undefined, matte: '6 4', data: '1.5 4' } as const;
const bend = 9;

/** The threads of the strands and the links between them; the links of the selected step are emphasised. */
export function Threads({ columns, rows, kinds, selected, feeding, endY, first, last }: Props) {
  /** Columns between two are seen. */
  const isSeen = (a: number, b = a) => Math.max(a, b) >= first && Math.min(a, b) <= last;
  const numbers = new Map(columns.map(({ strand }, i) => [strand.id, i]));
  const columnOf = (id: string) => numbers.get(id) ?? -1;
  const isFaded = (...ids: string[]) => feeding !== undefined && ids.some((id) => !feeding.has(id));
  /** The side of a column that a link from another comes in at. */
  const sideOf = (to: number, from: number) => columns[to].x + (from > to ? columns[to].width : 0);
  /** A folded strand has its head alone. */
  const placeOf = (s: Strand, after: string) =>
    s.folded || after === 'head' ? s.id : after === 'end' ? (s.steps.at(-1)?.id ?? s.id) : after;
  const kindAt = (s: Strand, after: string) => kinds.get(s.id)![pointIndex(s, after)];
  const heads = columns.flatMap(({ strand }, to) =>
    headTaps(strand.head).flatMap((tap, i) => {
      const from = columnOf(tap.strand);
      if (!isSeen(from, to)) return [];
      const x = threadX(columns[from]);
      const row = rows.get(strand.id)!;
      const y = rowY(row) + (row === 0 ? headHeight : stepHeight) / 2 - 3;
      const d = `M${x} ${bottomOf(rows.get(placeOf(columns[from].strand, tap.after))!)} V${y - bend} q0 ${bend} ${from > to ? -bend : bend} ${bend} H${sideOf(to, from)}`;
      const matte = kindAt(columns[from].strand, tap.after) === 'matte';
      const faded = isFaded(strand.id, placeOf(columns[from].strand, tap.after));
      return [{ key: `${strand.id}-${i}`, d, mine: strand.id === selected, matte, faded }];
    }),
  );
  const taps = columns.flatMap(({ strand }, to) =>
    (strand.folded ? [] : strand.steps).flatMap((step) =>
      Object.entries(step.slots).flatMap(([slot, tap]) => {
        const from = columnOf(tap.strand);
        if (!isSeen(from, to)) return [];
        const tapped = columns[from].strand;
        const point = placeOf(tapped, tap.after);
        const y = rowY(rows.get(step.id)!) + stepHeight / 2 + (slot === 'mask' ? 9 : -3);
        const x = threadX(columns[from]) + (slot === 'mask' ? 7 : 0);
        const turn = from > to ? -bend : bend;
        const d = `M${x} ${bottomOf(rows.get(point)!)} V${y - bend} q0 ${bend} ${turn} ${bend} H${sideOf(to, from)}`;
        const matte = kindAt(tapped, tap.after) === 'matte' || slot === 'mask';
        const faded = isFaded(step.id, point);
        return [{ key: `${step.id}-${slot}`, d, mine: step.id === selected, matte, faded }];
      }),
    ),
  );
  const links = [...heads, ...taps];
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      {columns.map((column, i) => {
        const { strand } = column;
        if (!isSeen(i)) return null;
        const places = [strand, ...(strand.folded ? [] : strand.steps)];
        // From each place to the next: a key changes what the thread carries.
        return places.map((p, k) => {
          const next = places[k + 1];
          const y2 = next ? rowY(rows.get(next.id)!) : i === 0 ? endY - 5 : bottomOf(rows.get(p.id)!);
          return (
            <line
              key={p.id}
              x1={threadX(column)}
              x2={threadX(column)}
              y1={bottomOf(rows.get(p.id)!)}
              y2={y2}
              stroke="#8a8a8a"
              strokeWidth={2}
              strokeDasharray={dashes[kinds.get(strand.id)![k]]}
              opacity={isFaded(p.id) || (next && isFaded(next.id)) ? 0.25 : undefined}
            />
          );
        });
      })}
      <circle cx={threadX(columns[0])} cy={endY} r={5} fill="none" stroke="#8a8a8a" strokeWidth={2} />
      {links
        .sort((a, b) => Number(a.mine) - Number(b.mine))
        .map((l) => (
          <path
            key={l.key}
            d={l.d}
            fill="none"
            stroke={l.mine ? 'var(--color-primary)' : '#6a6a6a'}
            strokeWidth={l.mine ? 2 : 1.5}
            strokeDasharray={l.matte ? dashes.matte : undefined}
            opacity={l.faded ? 0.2 : undefined}
          />
        ))}
    </svg>
  );
}
