import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX } from 'd3-shape';
import { type PointerEvent, useEffect, useRef, useState } from 'react';
import { useShot } from '@/browser/shot-store';
import { useEngine } from '@/browser/use-engine';
import { fromStops, toStops } from '@/core/colour/luminance';
import type { LightHistogram as Histogram } from '@/core/scopes/light';
import { formatNumber } from '../parts/format-value';

type Props = {
  stepId: string;
  threshold: number;
  knee: number;
  onPreview(threshold: number): void;
  onCommit(threshold: number): void;
};

const width = 240;
const height = 74;
const floor = 57;
const marks = [-6, -3, 0, 3, 6, 9];

/** The light a step takes from, counted in stops about mid-grey, with the threshold lying on it: drag it. */
export function LightHistogram({ stepId, threshold, knee, onPreview, onCommit }: Props) {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const [histogram, set] = useState<Histogram | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const dragging = useRef(false);

  useEffect(() => {
    if (!started) return;
    let current = true;
    const timer = setTimeout(async () => {
      const made = await started.engine.histogram(finish, stepId, frame).catch(() => undefined);
      if (current && made) set(made);
    }, 60);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [started, finish, stepId, frame]);

  const [from, to] = [histogram?.from ?? -8, histogram?.to ?? 10];
  const x = scaleLinear([from, to], [0, width]).clamp(true);
  const most = Math.log1p(Math.max(1, ...(histogram?.counts ?? [1])));
  const y = scaleLinear([0, most], [floor, 6]);
  const perBin = width / (histogram?.counts.length ?? 1);
  const shape =
    histogram &&
    area<number>()
      .x((_, i) => (i + 0.5) * perBin)
      .y0(floor)
      .y1((c) => y(Math.log1p(c)))
      .curve(curveMonotoneX)(histogram.counts);

  const at = (light: number) => (light > 0 ? x(toStops(light)) : 0);
  const line = at(threshold);
  const soft = [at(threshold - knee), at(threshold + knee)];
  const share = histogram && shareAbove(histogram, threshold);
  const lightAt = (e: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const place = ((e.clientX - box.left) / box.width) * width;
    return place <= 0 ? 0 : Number(fromStops(x.invert(place)).toPrecision(4));
  };
  return (
    <figure className="m-0 grid gap-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        className="w-full cursor-ew-resize touch-none rounded bg-base-200 select-none"
        data-testid="histogram"
        role="img"
        aria-label={`Histogram of the light in stops; threshold at ${formatNumber(threshold)}`}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          dragging.current = true;
          onPreview(lightAt(e));
        }}
        onPointerMove={(e) => dragging.current && onPreview(lightAt(e))}
        onPointerUp={(e) => {
          dragging.current = false;
          onCommit(lightAt(e));
        }}
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
          title="The threshold above which the brightest fiftieth of the picture lies."
          disabled={!histogram}
          onClick={() => histogram && onCommit(brightShare(histogram, 0.02))}
        >
          From the picture
        </button>
        <span className="ml-auto text-secondary">
          {share !== null && `${(share * 100).toFixed(share < 0.1 ? 2 : 0)} % of pixels shine`}
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

/** The luminance above which a share of the pixels lies, by whole bins. */
function brightShare(h: Histogram, share: number): number {
  const perBin = (h.to - h.from) / h.counts.length;
  let left = share * (h.counts.reduce((a, b) => a + b, 0) + h.below);
  let bin = h.counts.length;
  while (bin > 0 && left > 0) left -= h.counts[--bin];
  return Number(fromStops(h.from + bin * perBin).toPrecision(3));
}
