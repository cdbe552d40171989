import { scaleLinear } from 'd3-scale';
import { useAnswer } from '@/browser/viewer/use-answer';
import { fromStops, toStops } from '@/core/colour/luminance';
import { type LightHistogram as Histogram, lightThreshold } from '@/core/scopes/light';
import { formatNumber } from '../../parts/format-value';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { logArea } from './log-area';
import { svgPoint } from './svg-point';

type Props = {
  stepId: string;
  threshold: number;
  knee: number;
  onPreview(threshold: number | undefined): void;
  onCommit(threshold: number): void;
};

const width = 240;
const height = 74;
const floor = 57;
const marks = [-6, -3, 0, 3, 6, 9];

/** The light a step takes from, counted in stops about mid-grey, with the threshold lying on it: drag it. */
export function LightHistogram({ stepId, threshold, knee, onPreview, onCommit }: Props) {
  const histogram = useAnswer(({ engine, finish, frame }) => engine.histogram(finish, stepId, frame), stepId);

  const [from, to] = [histogram?.from ?? -8, histogram?.to ?? 10];
  const x = scaleLinear([from, to], [0, width]).clamp(true);
  const perBin = width / (histogram?.counts.length ?? 1);
  const shape = histogram && logArea(histogram.counts, (bin) => (bin + 0.5) * perBin, floor, 6);

  const at = (light: number) => (light > 0 ? x(toStops(light)) : 0);
  const line = at(threshold);
  const soft = [at(threshold - knee), at(threshold + knee)];
  const share = histogram && shareAbove(histogram, threshold);
  const lightAt = (svg: Element, hand: { clientX: number; clientY: number }) => {
    const { px } = svgPoint(hand, svg, width, height);
    return px <= 0 ? 0 : Number(fromStops(x.invert(px)).toPrecision(4));
  };
  const press = useDrag<Element>({
    start: (e) => {
      onPreview(lightAt(e.currentTarget, e));
      return e.currentTarget;
    },
    preview: (svg, hand) => onPreview(lightAt(svg, hand)),
    commit: (svg, hand) => onCommit(lightAt(svg, hand)),
    cancel: () => onPreview(undefined),
  });
  return (
    <figure className="m-0 grid gap-1">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full cursor-ew-resize touch-none rounded bg-base-200 select-none"
        data-testid="histogram"
        role="img"
        aria-label={t`Histogram of the light in stops; threshold at ${formatNumber(threshold)}`}
        onPointerDown={press}
      >
        <clipPath id={`above-${stepId}`}>
          <rect x={line} y={0} width={width - line} height={floor} />
        </clipPath>
        {marks.map((m) => (
          <g key={m}>
            <line x1={x(m)} x2={x(m)} y1={6} y2={floor} stroke="#333" />
            <text x={x(m)} y={height - 6} textAnchor="middle" fontSize={9} fill="var(--color-quiet)">
              {m > 0 ? `+${m}` : m}
            </text>
          </g>
        ))}
        {shape && <path d={shape} fill="#6d6d6d" />}
        {shape && <path d={shape} fill="var(--color-secondary)" clipPath={`url(#above-${stepId})`} />}
        <rect
          x={soft[0]}
          y={6}
          width={Math.max(0, soft[1] - soft[0])}
          height={floor - 6}
          fill="var(--color-secondary)"
          opacity={0.14}
        />
        <line x1={line} x2={line} y1={2} y2={floor + 3} stroke="var(--color-secondary)" strokeWidth={1.5} />
        <path d={`M${line - 4} 0h8l-4 6z`} fill="var(--color-secondary)" />
      </svg>
      <figcaption className="flex text-[11px] text-quiet">
        <button
          type="button"
          className="cursor-pointer text-primary hover:underline"
          title={t`Threshold = 80th percentile of the light, at most 1.`}
          disabled={!histogram}
          onClick={() => {
            const found = histogram && lightThreshold(histogram);
            if (found !== undefined && found !== null) onCommit(found);
          }}
        >
          {t`From the picture`}
        </button>
        <span className="ml-auto text-secondary">
          {share !== undefined && t`${(share * 100).toFixed(share < 0.1 ? 2 : 0)} % of pixels shine`}
        </span>
      </figcaption>
    </figure>
  );
}

/** Share of pixels brighter than a luminance, by whole bins. */
function shareAbove(h: Histogram, light: number): number {
  const perBin = (h.to - h.from) / h.counts.length;
  const first = light > 0 ? Math.max(0, Math.ceil((toStops(light) - h.from) / perBin)) : 0;
  const above = h.counts.slice(first).reduce((a, b) => a + b, 0);
  const all = h.counts.reduce((a, b) => a + b, 0) + h.below + h.broken;
  return all ? above / all : 0;
}
