import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX } from 'd3-shape';
import { Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useAnswer } from '@/browser/viewer/use-answer';
import { findAnimated } from '@/core/finish/animated';
import { curveOf, curveSpan, factorOf, withPoint } from '@/core/steps/finish/curves';
import type { RowsSpec, Value, Values } from '@/core/steps/shared/define';
import { IconButton } from '../../parts/IconButton';
import { TextField } from '../../parts/TextField';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { KeyMark, TrackFields } from '../fields/KeyFields';
import { svgPoint } from './svg-point';

type Rows = readonly (readonly number[])[];
type Props = {
  stepId: string;
  values: Values;
  shot: ShotDetail;
  onPreview(values: Record<string, Value> | undefined): void;
  onCommit(values: Record<string, Value>): string | undefined;
};

const [width, height] = [260, 200];
const room = { left: 20, right: 8, top: 8, bottom: 16 };
/** Stops that are seen. */
const [low, high] = curveSpan;
const tints: Record<string, string> = {
  luminance: '#f2b45f',
  master: '#d8d8d8',
  red: '#ff7b72',
  green: '#7ccf8a',
  blue: '#6f9dff',
  saturation: '#c7a4ff',
};
/** As near as this, in units of the drawing, is on a point. */
const grasp = 9;

const round = (v: number) => Math.round(v * 100) / 100 + 0;
const inOrder = (rows: Rows): Rows => [...rows].sort((a, b) => a[0] - b[0]);

/** Curves over stops, on the light that comes to the step: a click adds a point, it is dragged, typed, moved by keys and removed. */
export function CurvesEditor({ stepId, values, shot, onPreview, onCommit }: Props) {
  const finish = useShot((s) => s.finish);
  const [key, setKey] = useState('luminance');
  const [chosen, setChosen] = useState<number>();
  const histogram = useAnswer(
    ({ engine, finish, frame }) => engine.histogram(finish, stepId, frame),
    stepId,
    100,
  );

  const found = findAnimated(finish, stepId)!;
  const curves = Object.entries(found.specs).filter(
    (entry): entry is [string, RowsSpec] => entry[1].type === 'rows',
  );
  const spec = found.specs[key] as RowsSpec;
  const rows = (values[key] ?? []) as Rows;
  const isFactor = key === 'saturation';
  const x = scaleLinear([low, high], [room.left, width - room.right]);
  const y = scaleLinear(isFactor ? [0, 2] : [low, high], [height - room.bottom, room.top]);
  const rest = (stops: number) => (isFactor ? 1 : stops);
  const path = useMemo(() => {
    const value = isFactor ? factorOf(rows) : curveOf(rows);
    return Array.from({ length: 161 }, (_, i) => {
      const s = low + (i / 160) * (high - low);
      return `${i === 0 ? 'M' : 'L'}${x(s).toFixed(2)} ${y(value(s)).toFixed(2)}`;
    }).join('');
  }, [rows, isFactor, x, y]);
  const hills =
    histogram &&
    area<number>()
      .x((_, i) =>
        x(histogram.from + ((i + 0.5) / histogram.counts.length) * (histogram.to - histogram.from)),
      )
      .y0(height - room.bottom)
      .y1((c) => {
        const most = Math.log1p(Math.max(1, ...histogram.counts));
        return height - room.bottom - ((height - room.bottom - room.top) * 0.8 * Math.log1p(c)) / most;
      })
      .curve(curveMonotoneX)(histogram.counts);

  const placed = (svg: Element, hand: { clientX: number; clientY: number }): [number, number] => {
    const { px, py } = svgPoint(hand, svg, width, height);
    const [a, b] = y.domain();
    return [
      round(Math.min(high, Math.max(low, x.invert(px)))),
      round(Math.min(Math.max(a, b), Math.max(Math.min(a, b), y.invert(py)))),
    ];
  };
  const changed = (index: number, point: readonly number[]): Rows =>
    rows.map((row, i) => (i === index ? point : row));
  type Held = { svg: Element; index: number; from: Rows };
  const press = useDrag<Held>({
    start: (e) => {
      const svg = e.currentTarget;
      const { px, py } = svgPoint(e, svg, width, height);
      const near = rows.findIndex(([a, b]) => Math.hypot(x(a) - px, y(b) - py) < grasp);
      if (near >= 0) {
        setChosen(near);
        return { svg, index: near, from: rows };
      }
      if (rows.length >= spec.most) {
        toast(t`A curve has at most ${spec.most} points.`);
        return undefined;
      }
      const point = placed(svg, e);
      const from = withPoint(rows, point, isFactor);
      const index = from.indexOf(point);
      setChosen(index);
      onPreview({ [key]: from });
      return { svg, index, from };
    },
    preview: ({ svg, index, from }, hand) =>
      onPreview({ [key]: from.map((row, i) => (i === index ? placed(svg, hand) : row)) }),
    commit: ({ svg, index, from }, hand) => {
      const to = hand.moved ? from.map((row, i) => (i === index ? placed(svg, hand) : row)) : from;
      const sorted = inOrder(to);
      setChosen(sorted.indexOf(to[index]));
      onCommit({ [key]: sorted });
    },
    cancel: () => onPreview(undefined),
  });
  const remove = (index: number) => {
    setChosen(undefined);
    onCommit({ [key]: rows.filter((_, i) => i !== index) });
  };
  const nudge = (index: number) => (e: React.KeyboardEvent) => {
    if (e.key === 'Delete' || e.key === 'Backspace') remove(index);
    else {
      const by = e.shiftKey ? 1 : e.altKey ? 0.01 : 0.1;
      const step: Record<string, [number, number]> = {
        ArrowLeft: [-by, 0],
        ArrowRight: [by, 0],
        ArrowUp: [0, by],
        ArrowDown: [0, -by],
      };
      const to = step[e.key];
      if (!to) return;
      const [a, b] = rows[index];
      onCommit({ [key]: changed(index, [round(a + to[0]), round(b + to[1])]) });
    }
    e.preventDefault();
    e.nativeEvent.stopImmediatePropagation();
  };
  const point = chosen === undefined ? undefined : rows[chosen];
  const typed = (part: 0 | 1, name: string) =>
    point && (
      <span className="flex items-center gap-1">
        <span className="text-quiet">{name}</span>
        <TextField
          label={t`${name} of the chosen point`}
          className="input input-xs w-14 text-right"
          selects
          value={String(point[part])}
          onCommit={(text) => {
            const to = Number(text.replace(',', '.'));
            if (text.trim() === '' || !Number.isFinite(to)) return t`It takes a number.`;
            return onCommit({
              [key]: inOrder(changed(chosen!, part === 0 ? [to, point[1]] : [point[0], to])),
            });
          }}
        />
      </span>
    );
  const keyed = { of: stepId, valueKey: key, spec, track: found.holder.animation?.[key] };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1 text-xs" role="group" aria-label={t`Curves`}>
      <div className="flex flex-wrap items-center gap-0.5" role="group" aria-label={t`Which curve`}>
        {curves.map(([k, s]) => (
          <button
            key={k}
            type="button"
            className={`btn btn-xs px-1.5 font-normal ${k === key ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`}
            aria-pressed={k === key}
            title={s.description}
            onClick={() => {
              setKey(k);
              setChosen(undefined);
            }}
          >
            {s.name}
            {(values[k] as Rows).length > 0 && (
              <span className="size-1.5 rounded-full" style={{ background: tints[k] }} />
            )}
          </button>
        ))}
      </div>
      <div className="relative">
        <svg
          viewBox={`0 0 ${width} ${height}`}
          className="w-full touch-none rounded bg-base-200 select-none"
          data-testid="curves"
          role="img"
          aria-label={t`Curve of ${spec.name.toLowerCase()} over stops`}
          onPointerDown={press}
        >
          {[-6, -3, 0, 3, 6].map((m) => (
            <g key={m}>
              <line x1={x(m)} x2={x(m)} y1={room.top} y2={height - room.bottom} stroke="#303030" />
              <text x={x(m)} y={height - 4} textAnchor="middle" fontSize={9} fill="var(--color-quiet)">
                {m > 0 ? `+${m}` : m}
              </text>
            </g>
          ))}
          {(isFactor ? [0, 0.5, 1, 1.5, 2] : [-6, -3, 0, 3, 6]).map((m) => (
            <g key={m}>
              <line x1={room.left} x2={width - room.right} y1={y(m)} y2={y(m)} stroke="#303030" />
              <text x={room.left - 3} y={y(m) + 3} textAnchor="end" fontSize={9} fill="var(--color-quiet)">
                {m > 0 && !isFactor ? `+${m}` : m}
              </text>
            </g>
          ))}
          {hills && <path d={hills} fill="#4a4a4a" opacity={0.7} />}
          <line
            x1={x(low)}
            y1={y(rest(low))}
            x2={x(high)}
            y2={y(rest(high))}
            stroke="#6b6b6b"
            strokeDasharray="3 3"
          />
          <path d={path} fill="none" stroke={tints[key]} strokeWidth={1.75} />
        </svg>
        {rows.map(([a, b], i) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: points have no other name
            key={i}
            type="button"
            aria-label={t`Point at ${a} stops: ${b}`}
            aria-pressed={i === chosen}
            className={`pointer-events-none absolute size-2.5 -translate-x-1/2 -translate-y-1/2 rounded-full border border-base-200 focus-visible:outline-2 ${i === chosen ? 'bg-base-content' : ''}`}
            style={{
              left: `${(x(a) / width) * 100}%`,
              top: `${(y(b) / height) * 100}%`,
              ...(i === chosen ? {} : { background: tints[key] }),
            }}
            onFocus={() => setChosen(i)}
            onKeyDown={nudge(i)}
          />
        ))}
      </div>
      <div className="flex flex-wrap min-h-6 items-center gap-2">
        {point ? (
          <>
            {typed(0, t`From`)}
            {typed(1, isFactor ? t`Factor` : t`To`)}
            <IconButton icon={Trash2} label={t`Remove the chosen point`} onClick={() => remove(chosen!)} />
          </>
        ) : (
          <span className="min-w-0 text-quiet">{t`Click to add a point, drag it. ${spec.description}`}</span>
        )}
        <select
          className="select select-xs ml-auto w-28 shrink-0"
          aria-label={t`Start from a curve`}
          value=""
          onChange={(e) => {
            setChosen(undefined);
            onCommit({ [key]: spec.sets[e.target.value].rows });
          }}
        >
          <option value="">{t`Start from…`}</option>
          {Object.entries(spec.sets).map(([id, set]) => (
            <option key={id} value={id}>
              {set.name}
            </option>
          ))}
        </select>
        <KeyMark {...keyed} />
      </div>
      <TrackFields {...keyed} shot={shot} />
    </div>
  );
}
