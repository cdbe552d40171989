import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useShares } from '@/browser/viewer/use-shares';
import type { Tap } from '@/core/finish/finish';
import { axis, Chart } from '../parts/Chart';
import { t } from '../words/words';

type Props = {
  place: Tap;
  now: number | undefined;
  shot: ShotDetail;
  /** A light step's share of the light in place of a matte's of the frame. */
  light?: boolean;
};

/**
 * How much of the frame a matte covers, or of the light a step adds, now and over all frames: a matte that vanishes for a while, a light that
 * flickers, show at once.
 */
export function CoverageChart({ place, now, shot, light = false }: Props) {
  const frame = useShot((s) => s.frame);
  const change = useShot((s) => s.change);
  const { shares, progress, stop } = useShares(place, shot);
  const color = light ? '#f2b45f' : '#6f9dff';
  const option = useMemo(
    () => ({
      animation: false,
      grid: { left: 34, right: 6, top: 8, bottom: 18 },
      tooltip: {
        trigger: 'axis',
        confine: true,
        valueFormatter: (v: unknown) => `${(Number(v) * 100).toFixed(2)} %`,
      },
      xAxis: { type: 'value', ...axis, min: shot.first, max: shot.last, splitLine: { show: false } },
      yAxis: {
        type: 'value',
        ...axis,
        min: 0,
        splitNumber: 2,
        axisLabel: { ...axis.axisLabel, formatter: (v: number) => `${Number((v * 100).toPrecision(2))}%` },
      },
      series: [
        {
          type: 'line',
          symbol: 'none',
          data: Object.entries(shares).map(([f, share]) => [Number(f), share]),
          lineStyle: { width: 1.5, color },
          areaStyle: { color, opacity: 0.15 },
        },
      ],
    }),
    [shares, color, shot.first, shot.last],
  );
  const gone = Object.entries(shares)
    .filter(([, share]) => share === 0)
    .map(([f]) => Number(f));
  return (
    <section
      className="grid gap-1 border-b border-line px-4 py-2.5"
      aria-label={light ? t`Added light` : t`Coverage`}
    >
      <h3 className="flex text-[13px] font-semibold text-secondary">
        {light ? t`Adds` : t`Covers`}
        <span className="ml-auto font-normal text-base-content" data-testid="coverage">
          {now === undefined
            ? '…'
            : t`${(now * 100).toFixed(now < 0.1 ? 2 : 1)} % of ${light ? t`the light on` : ''} frame ${frame}`}
        </span>
      </h3>
      <Chart option={option} className="h-20 w-full" />
      {progress && (
        <p className="flex items-center gap-2 text-xs text-quiet" role="status">
          {t`${progress.done} of ${progress.of} frames`}
          <progress className="progress progress-primary flex-1" value={progress.done} max={progress.of} />
          <button type="button" className="btn btn-ghost btn-xs" onClick={stop}>
            {t`Stop`}
          </button>
        </p>
      )}
      {!light && gone.length > 0 && gone.length < Object.keys(shares).length && (
        <p className="text-xs text-secondary">
          {gone.length === 1 ? t`Empty on frame` : t`Empty on frames`}{' '}
          {gone.slice(0, 8).map((f) => (
            <button
              key={f}
              type="button"
              className="cursor-pointer px-0.5 underline"
              onClick={() => change({ frame: f })}
            >
              {f}
            </button>
          ))}
          {gone.length > 8 && '…'}
        </p>
      )}
    </section>
  );
}
