import { scaleLinear } from 'd3-scale';
import { useAnswer } from '@/browser/viewer/use-answer';
import { fromStops, toStops } from '@/core/colour/luminance';
import type { RangeChannel } from '@/core/kernels/key';
import type { Value } from '@/core/steps/shared/define';
import { rangeStart } from '@/core/steps/shared/start';
import { formatNumber } from '../../parts/format-value';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { logArea } from './log-area';
import { svgPoint } from './svg-point';

type Ends = { low: number; lowSoft: number; high: number; highSoft: number };
type Props = {
  stepId: string;
  channel: RangeChannel;
  /** The end of what its numbers can be: a band up to there is open. */
  most: number;
  values: Record<string, Value>;
  onPreview(to: Partial<Ends> | undefined): void;
  onCommit(to: Partial<Ends>): void;
};

const width = 240;
const height = 78;
const floor = 60;
const top = 8;

/** The values a key reads, with its band lying on them: the ends are dragged below, their softness above. */
export function RangeHistogram({ stepId, channel, most, values, onPreview, onCommit }: Props) {
  const histogram = useAnswer(
    ({ engine, finish, frame }) => engine.values(finish, stepId, channel, frame),
    `${stepId} ${channel}`,
  );

  const { low, lowSoft, high, highSoft } = values as unknown as Ends;
  const [from, to] = [histogram?.from ?? 0, histogram?.to ?? 1];
  const x = scaleLinear([from, to], [0, width]).clamp(true);
  const stops = histogram?.scale === 'stops';
  const at = (v: number) => (v >= most ? width : stops ? (v > 0 ? x(toStops(v)) : 0) : x(v));
  const valueAt = (place: number) => {
    if (place >= width - 1) return most;
    const v = x.invert(Math.max(0, place));
    return Number((stops ? (place <= 0 ? 0 : fromStops(v)) : v).toPrecision(4));
  };
  const perBin = width / (histogram?.counts.length ?? 1);
  const shape = histogram && logArea(histogram.counts, (bin) => (bin + 0.5) * perBin, floor, top + 6);
  const [a, b, c, d] = [at(low - lowSoft), at(low), at(high), high >= most ? width : at(high + highSoft)];

  /** The end or softness nearest to where the hand comes down. */
  const nearest = (px: number, py: number): keyof Ends => {
    const above = py < (top + floor) / 2;
    const ends = above
      ? ([
          ['lowSoft', a],
          ['highSoft', d],
        ] as const)
      : ([
          ['low', b],
          ['high', c],
        ] as const);
    return Math.abs(px - ends[0][1]) <= Math.abs(px - ends[1][1]) ? ends[0][0] : ends[1][0];
  };
  const moved = (key: keyof Ends, px: number): Partial<Ends> => {
    const v = valueAt(px);
    const round = (n: number) => Number(n.toPrecision(4));
    if (key === 'low') return { low: Math.min(v, high) };
    if (key === 'high') return { high: Math.max(v, low) };
    if (key === 'lowSoft') return { lowSoft: round(Math.max(0, low - v)) };
    return { highSoft: high >= most ? 0 : round(Math.max(0, v - high)) };
  };
  const press = useDrag<{ end: keyof Ends; svg: Element }>({
    start: (e) => {
      const svg = e.currentTarget;
      const { px, py } = svgPoint(e, svg, width, height);
      const end = nearest(px, py);
      onPreview(moved(end, px));
      return { end, svg };
    },
    preview: ({ end, svg }, hand) => onPreview(moved(end, svgPoint(hand, svg, width, height).px)),
    commit: ({ end, svg }, hand) => onCommit(moved(end, svgPoint(hand, svg, width, height).px)),
    cancel: () => onPreview(undefined),
  });
  const marks = stops ? [-6, -3, 0, 3, 6, 9] : x.ticks(5);
  return (
    <figure className="m-0 grid gap-1">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full cursor-ew-resize touch-none rounded bg-base-200 select-none"
        data-testid="band-histogram"
        role="img"
        aria-label={t`Histogram of the values; the range goes from ${formatNumber(low)} to ${high >= most ? t`the end` : formatNumber(high)}`}
        onPointerDown={press}
      >
        {marks.map((m) => (
          <g key={m}>
            <line x1={x(m)} x2={x(m)} y1={top} y2={floor} stroke="#333" />
            <text x={x(m)} y={height - 6} textAnchor="middle" fontSize={9} fill="var(--color-quiet)">
              {stops && m > 0 ? `+${m}` : m}
            </text>
          </g>
        ))}
        {shape && <path d={shape} fill="#6d6d6d" />}
        <path
          d={`M${a} ${floor}L${b} ${top}H${c}L${d} ${floor}Z`}
          fill="var(--color-primary)"
          fillOpacity={0.22}
          stroke="var(--color-primary)"
        />
        <path d={`M${b - 4} ${floor + 5}h8l-4 -6z`} fill="var(--color-primary)" />
        <path d={`M${c - 4} ${floor + 5}h8l-4 -6z`} fill="var(--color-primary)" />
        <path d={`M${a - 3} ${top - 6}h6l-3 5z`} fill="var(--color-primary)" fillOpacity={0.7} />
        <path d={`M${d - 3} ${top - 6}h6l-3 5z`} fill="var(--color-primary)" fillOpacity={0.7} />
      </svg>
      <figcaption className="flex items-center text-[11px] text-quiet">
        <span>{stops ? t`stops about mid-grey` : t`values of the pass`}</span>
        {histogram && histogram.endless > 0 && (
          <span className="ml-2">{t`${(histogram.endless * 100).toFixed(0)} % endless`}</span>
        )}
        {histogram && (
          <button
            type="button"
            className="ml-auto cursor-pointer text-primary hover:underline"
            title={t`From the 50th percentile of the values to the 98th.`}
            onClick={() => onCommit(rangeStart(histogram, most))}
          >
            {t`From the picture`}
          </button>
        )}
      </figcaption>
    </figure>
  );
}
