import { Fragment, useEffect, useMemo, useState } from 'react';
import type { Measured } from '@/browser/engine/answers';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot } from '@/browser/session/store';
import { shownPoint } from '@/browser/viewer/use-look';
import { vectorPlace } from '@/core/scopes/waveform';
import { axis, Chart, channelColours } from '../parts/Chart';
import { Options } from '../parts/Options';
import { t } from '../words/words';

const grid = { left: 30, right: 12, top: 28, bottom: 18 };
const still = { animation: false };

/** Scopes there are; three of them are seen at a time. */
const kinds = {
  waveform: t`Waveform`,
  parade: t`Parade of red, green, blue`,
  vectors: t`Vectorscope`,
  histogram: t`Histogram`,
  stops: t`Luminance in stops about mid-grey`,
} as const;
type Kind = keyof typeof kinds;

/** Shades of a heat map from one tint. */
const heat = (...colours: string[]) => ({ show: false, min: 0, max: 0.12, inRange: { color: colours } });
/** Colours of the corners of a screen's colours, with their codes. */
const corners = [
  ['R', 1, 0, 0],
  [t`Yl`, 1, 1, 0],
  ['G', 0, 1, 0],
  [t`Cy`, 0, 1, 1],
  ['B', 0, 0, 1],
  [t`Mg`, 1, 0, 1],
] as const;

/** Levels of a waveform, in percent of white. */
const levelAxis = (levels: number) => ({
  type: 'category',
  ...axis,
  data: Array.from({ length: levels }, (_, i) => i),
  axisLabel: {
    ...axis.axisLabel,
    interval: (i: number) => i % 16 === 0,
    formatter: (v: string) => `${Math.round((Number(v) / (levels - 1)) * 100)}`,
  },
  splitLine: { show: false },
});

/** What the charts show of what was measured. */
function optionsOf({ scopes, light }: Measured) {
  const perBin = (light.to - light.from) / light.counts.length;
  return {
    waveform: {
      ...still,
      grid,
      xAxis: { type: 'category', show: false, data: Array.from({ length: scopes.columns }, (_, i) => i) },
      yAxis: levelAxis(scopes.levels),
      visualMap: heat('#26251f', '#8a6c3d', '#f2b45f', '#fff3dc'),
      series: [{ type: 'heatmap', data: scopes.waveform, progressive: 0, emphasis: { disabled: true } }],
    },
    parade: {
      ...still,
      grid,
      xAxis: { type: 'category', show: false, data: Array.from({ length: scopes.columns }, (_, i) => i) },
      yAxis: levelAxis(scopes.levels),
      visualMap: [0, 1, 2].map((c) => ({
        ...heat(
          ...[
            ['#2a1a1a', '#ff8f87'],
            ['#18251a', '#8fcf9b'],
            ['#191d2c', '#7fa6ff'],
          ][c],
        ),
        seriesIndex: c,
      })),
      series: [0, 1, 2].map((c) => ({
        type: 'heatmap',
        data: scopes.parade.filter(([x]) => Math.floor(x / Math.floor(scopes.columns / 3)) === c),
        progressive: 0,
        emphasis: { disabled: true },
      })),
    },
    vectors: {
      ...still,
      grid: { left: 60, right: 60, top: 22, bottom: 6 },
      xAxis: { type: 'category', show: false, data: Array.from({ length: scopes.side }, (_, i) => i) },
      yAxis: { type: 'category', show: false, data: Array.from({ length: scopes.side }, (_, i) => i) },
      visualMap: { ...heat('#2b3a2d', '#8fcf9b', '#f4fff6'), max: 0.01, seriesIndex: 0 },
      series: [
        { type: 'heatmap', data: scopes.vectors, progressive: 0, emphasis: { disabled: true } },
        {
          type: 'scatter',
          symbol: 'rect',
          symbolSize: 7,
          silent: true,
          itemStyle: { color: 'transparent', borderColor: '#8a8a8a' },
          label: { show: true, position: 'right', color: '#8a8a8a', fontSize: 9, formatter: '{b}' },
          data: corners.map(([name, r, g, b]) => ({ name, value: vectorPlace(r, g, b).map(Math.round) })),
        },
      ],
    },
    histogram: {
      ...still,
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
      ...still,
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
}

/** Scopes of the shown picture, or of the framed region of it: by the codes of the display, and in stops of light. */
export function Scopes() {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const strand = useShot((s) => shownPoint(s).strand);
  const after = useShot((s) => shownPoint(s).after);
  const region = useShot((s) => s.region);
  const size = useShot((s) => s.size);
  const [seen, setSeen] = useState<readonly Kind[]>(['waveform', 'vectors', 'stops']);
  const [measured, setMeasured] = useState<Measured | undefined>();
  useEffect(() => {
    let current = true;
    started?.engine
      .scopes(finish, { strand, after }, frame, region && { ...region, of: size })
      .then((found) => current && found && setMeasured(found))
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [started, finish, frame, strand, after, region, size]);

  const reference = useShot((s) => s.reference);
  const options = useMemo(() => measured && optionsOf(measured), [measured]);
  const beside = useMemo(() => reference && optionsOf(reference.measured), [reference]);
  // With a reference two kinds are seen, each of the result and beside it of the reference.
  const shown = seen.slice(0, beside ? 2 : 3);
  return (
    <section
      className={`grid h-40 border-t border-line bg-base-100 ${beside ? 'grid-cols-4' : 'grid-cols-3'}`}
      aria-label={t`Scopes`}
    >
      {options ? (
        shown.map((kind, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a place in the row, whatever is seen there
          <Fragment key={i}>
            <div className="relative min-w-0" data-scope={kind}>
              <select
                className="absolute top-0.5 left-2 z-10 max-w-full cursor-pointer bg-transparent text-[11px] text-quiet hover:text-base-content"
                aria-label={t`Scope ${i + 1}`}
                value={kind}
                onChange={(e) => setSeen(seen.map((k, n) => (n === i ? (e.target.value as Kind) : k)))}
              >
                <Options of={kinds} />
              </select>
              <Chart key={kind} option={options[kind]} className="h-40 w-full" />
            </div>
            {beside && (
              <div className="relative min-w-0 bg-base-200" data-scope-of-reference={kind}>
                <span className="absolute top-1 left-2 z-10 max-w-full truncate text-[11px] text-quiet">
                  {reference?.name}
                </span>
                <Chart key={kind} option={beside[kind]} className="h-40 w-full" />
              </div>
            )}
          </Fragment>
        ))
      ) : (
        <p className="col-span-full self-center text-center text-xs text-quiet">{t`Measuring…`}</p>
      )}
    </section>
  );
}
