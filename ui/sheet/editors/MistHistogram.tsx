import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useState } from 'react';
import { useAnswer } from '@/browser/viewer/use-answer';
import { type Density, densityAt } from '@/core/steps/air/density';
import type { Value } from '@/core/steps/shared/define';
import { mistStart } from '@/core/steps/shared/start';
import { formatNumber, toHex } from '../../parts/format-value';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { logArea } from './log-area';
import { MistStops } from './MistStops';
import { svgPoint } from './svg-point';

type Grip = 'near' | 'far' | { stop: number };
type Rows = readonly (readonly number[])[];
type Props = {
  stepId: string;
  /** The slot whose depth is read; what comes to the step if there is none. */
  slot?: string;
  values: Record<string, Value>;
  onPreview(to: Record<string, Value> | undefined): void;
  onCommit(to: Record<string, Value>): void;
};

const width = 240;
const [top, floor, strip, height] = [8, 66, 84, 100];

/** Histogram of the depth, and the density of the mist over it: near and far are dragged, and its stops on the strip below. */
export function MistHistogram({ stepId, slot, values, onPreview, onCommit }: Props) {
  const [stop, choose] = useState(0);
  const histogram = useAnswer(
    ({ engine, finish, frame }) => engine.values(finish, stepId, 'red', frame, slot),
    `${stepId} ${slot}`,
  );

  const v = values as unknown as Density;
  const stops = values.stops as Rows | undefined;
  const [near, far] = v.input === 'mist' ? [0, 1] : [v.near, v.far];
  const [from, to] = [
    Math.min(histogram?.from ?? 0, near),
    Math.max(histogram?.to ?? 1, Math.min(far, (histogram?.to ?? far) * 2)),
  ];
  // Marks at both ends are not cut off.
  const x = scaleLinear([from, to], [6, width - 6]).clamp(true);
  const counts = histogram?.counts ?? [];
  const depthOf = (i: number) =>
    histogram ? histogram.from + ((i + 0.5) / counts.length) * (histogram.to - histogram.from) : 0;
  const shape = logArea(counts, (bin) => x(depthOf(bin)), floor, top + 6);
  const density = line<number>()
    .x((px) => px)
    .y((px) => floor - (floor - top) * densityAt({ ...v, near, far }, x.invert(px)))(
    Array.from({ length: 61 }, (_, i) => i * 4),
  );
  const placeOf = (at: number) => x(near + at * (far - near));
  const round = (n: number) => Number(n.toPrecision(4));
  const moved = (grip: Grip, px: number): Record<string, Value> => {
    const z = x.invert(px);
    if (grip === 'near') return { near: round(Math.min(z, far - 1e-3)) };
    if (grip === 'far') return { far: round(Math.max(z, near + 1e-3)) };
    const at = round(Math.min(1, Math.max(0, (z - near) / Math.max(1e-6, far - near))));
    return { stops: (stops ?? []).map((row, i) => (i === grip.stop ? [at, ...row.slice(1)] : row)) };
  };
  const gripAt = (px: number, py: number): Grip | undefined => {
    if (stops && py > floor + 6) {
      const [nearest] = stops
        .map((row, i) => ({ i, away: Math.abs(placeOf(row[0]) - px) }))
        .sort((a, b) => a.away - b.away);
      choose(nearest.i);
      return { stop: nearest.i };
    }
    if (v.input !== 'depth') return undefined;
    return Math.abs(px - x(near)) <= Math.abs(px - x(far)) ? 'near' : 'far';
  };
  const press = useDrag<{ grip: Grip; svg: Element }>({
    start: (e) => {
      const svg = e.currentTarget;
      const { px, py } = svgPoint(e, svg, width, height);
      const grip = gripAt(px, py);
      return grip && { grip, svg };
    },
    preview: ({ grip, svg }, hand) =>
      hand.moved && onPreview(moved(grip, svgPoint(hand, svg, width, height).px)),
    commit: ({ grip, svg }, hand) =>
      hand.moved && onCommit(moved(grip, svgPoint(hand, svg, width, height).px)),
    cancel: () => onPreview(undefined),
  });
  return (
    <figure className="m-0 grid gap-1">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full cursor-ew-resize touch-none rounded bg-base-200 select-none"
        data-testid="mist-histogram"
        role="img"
        aria-label={t`Histogram of the depth; mist from ${formatNumber(near)} to ${formatNumber(far)}`}
        onPointerDown={press}
      >
        {x.ticks(5).map((m) => (
          <line key={m} x1={x(m)} x2={x(m)} y1={top} y2={floor} stroke="#333" />
        ))}
        {shape && <path d={shape} fill="#6d6d6d" />}
        {density && <path d={density} fill="none" stroke="var(--color-primary)" strokeWidth={1.5} />}
        {v.input === 'depth' &&
          [near, far].map((z, i) => (
            <g key={i === 0 ? 'near' : 'far'}>
              <line x1={x(z)} x2={x(z)} y1={top} y2={floor} stroke="var(--color-secondary)" />
              <path d={`M${x(z) - 4} ${top - 6}h8l-4 6z`} fill="var(--color-secondary)" />
            </g>
          ))}
        {stops && (
          <>
            <defs>
              <linearGradient id={`mist-${stepId}`}>
                {[...stops]
                  .sort((a, b) => a[0] - b[0])
                  .map(([at, , r, g, b]) => (
                    <stop key={`${at}/${r}/${g}/${b}`} offset={at} stopColor={toHex([r, g, b])} />
                  ))}
              </linearGradient>
            </defs>
            <rect
              x={placeOf(0)}
              width={Math.max(1, placeOf(1) - placeOf(0))}
              y={floor + 6}
              height={strip - floor - 6}
              fill={`url(#mist-${stepId})`}
            />
            {stops.map((row, i) => (
              <circle
                // biome-ignore lint/suspicious/noArrayIndexKey: stops have no other name
                key={i}
                data-stop={i}
                cx={placeOf(row[0])}
                cy={strip + 6}
                r={5}
                fill={toHex([row[2], row[3], row[4]])}
                stroke={i === stop ? 'var(--color-primary)' : '#999'}
                strokeWidth={i === stop ? 2 : 1}
              />
            ))}
          </>
        )}
      </svg>
      <figcaption className="flex items-center text-[11px] whitespace-nowrap text-quiet">
        <span title={t`Depth in scene units; what lies beyond counts at the right end.`}>
          {t`${formatNumber(from)} to ${formatNumber(to)}`}
        </span>
        {histogram && histogram.endless > 0 && (
          <span className="ml-2">{t`${(histogram.endless * 100).toFixed(0)} % sky`}</span>
        )}
        {histogram && v.input === 'depth' && (
          <button
            type="button"
            className="ml-auto cursor-pointer text-primary hover:underline"
            title={t`Near = 5th percentile of depth, far = 98th percentile.`}
            onClick={() => onCommit(mistStart(histogram))}
          >
            {t`From the picture`}
          </button>
        )}
      </figcaption>
      {stops && (
        <MistStops
          stepId={stepId}
          stops={stops}
          chosen={Math.min(stop, stops.length - 1)}
          onChoose={choose}
          onPreview={(to) => onPreview(to && { stops: to })}
          onCommit={(to) => onCommit({ stops: to })}
        />
      )}
    </figure>
  );
}
