import { useEffect, useMemo, useState } from 'react';
import type { Measured } from '@/browser/engine/answers';
import { useEngine } from '@/browser/engine/use-engine';
import { shownPoint } from '@/browser/engine/use-look';
import { useShot } from '@/browser/session/store';
import { axis, Chart, channelColours } from '../parts/Chart';

const grid = { left: 30, right: 12, top: 28, bottom: 18 };
const title = (label: string) => ({ animation: false, label });

/** Scopes of the shown picture: waveform, histogram of the display's codes, luminance in stops. */
export function Scopes() {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const strand = useShot((s) => shownPoint(s).strand);
  const after = useShot((s) => shownPoint(s).after);
  const [measured, setMeasured] = useState<Measured | undefined>();
  useEffect(() => {
    let current = true;
    started?.engine
      .scopes(finish, { strand, after }, frame)
      .then((found) => current && found && setMeasured(found))
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [started, finish, frame, strand, after]);

  const options = useMemo(() => {
    if (!measured) return undefined;
    const { scopes, light } = measured;
    const perBin = (light.to - light.from) / light.counts.length;
    return {
      waveform: {
        ...title('Waveform'),
        grid,
        xAxis: { type: 'category', show: false, data: Array.from({ length: scopes.columns }, (_, i) => i) },
        yAxis: {
          type: 'category',
          ...axis,
          data: Array.from({ length: scopes.levels }, (_, i) => i),
          axisLabel: {
            ...axis.axisLabel,
            interval: (i: number) => i % 16 === 0,
            formatter: (v: string) => `${Math.round((Number(v) / (scopes.levels - 1)) * 100)}`,
          },
          splitLine: { show: false },
        },
        visualMap: {
          show: false,
          min: 0,
          max: 0.12,
          inRange: { color: ['#26251f', '#8a6c3d', '#f2b45f', '#fff3dc'] },
        },
        series: [{ type: 'heatmap', data: scopes.waveform, progressive: 0, emphasis: { disabled: true } }],
      },
      histogram: {
        ...title('Histogram'),
        grid,
        xAxis: { type: 'category', show: false, data: scopes.histogram[0].map((_, i) => i) },
        yAxis: { type: 'value', show: false },
        series: scopes.histogram.map((counts, c) => ({
          type: 'line',
          data: counts.map((n) => Math.sqrt(n)),
          symbol: 'none',
          lineStyle: { width: 1, color: channelColours[c] },
          areaStyle: { color: channelColours[c], opacity: 0.16 },
        })),
      },
      stops: {
        ...title('Luminance in stops about mid-grey'),
        grid,
        xAxis: { type: 'value', ...axis, min: light.from, max: light.to, splitLine: { show: false } },
        yAxis: { type: 'value', show: false },
        series: [
          {
            type: 'line',
            data: light.counts.map((n, i) => [light.from + (i + 0.5) * perBin, Math.sqrt(n)]),
            symbol: 'none',
            lineStyle: { width: 1, color: '#f2b45f' },
            areaStyle: { color: '#f2b45f', opacity: 0.2 },
          },
        ],
      },
    };
  }, [measured]);

  return (
    <section className="grid h-40 grid-cols-3 border-t border-line bg-base-100" aria-label="Scopes">
      {options ? (
        Object.entries(options).map(([key, option]) => (
          <div key={key} className="relative min-w-0" data-scope={key}>
            <h3 className="absolute top-1 left-2 z-10 text-[11px] text-quiet">{option.label}</h3>
            <Chart option={option} className="h-40 w-full" />
          </div>
        ))
      ) : (
        <p className="col-span-3 self-center text-center text-xs text-quiet">Measuring…</p>
      )}
    </section>
  );
}
