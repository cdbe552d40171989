import { useMemo } from 'react';
import { type Film, filmLaws } from '@/core/optics/film';
import { type Glare, glareLaws } from '@/core/optics/glare';
import type { Value } from '@/core/steps/shared/define';
import { axis, Chart } from '../../parts/Chart';
import { t } from '../../words/words';

type Shown = Film & Omit<Glare, 'model'> & { model: Glare['model'] | 'film' };

/** How much light lands how far from its source, both by powers of ten. */
export function GlarePlot({ values }: { values: Record<string, Value> }) {
  const { model, age, eyePigmentation, particleSize, sizeVariation } = values as unknown as Shown;
  const option = useMemo(() => {
    const angles = Array.from({ length: 80 }, (_, i) => 0.02 * 1500 ** (i / 79));
    const film = model === 'film';
    const laws =
      model === 'film'
        ? filmLaws({ particleSize, sizeVariation }, 30)
        : glareLaws({ model, age, eyePigmentation });
    // A film's light has no unit of its own: its green is 1 in the middle.
    const unit = film ? laws[1](0) : 1;
    const label = { ...axis.axisLabel, formatter: (v: number) => `${v}°` };
    return {
      animation: false,
      grid: { left: 34, right: 8, top: 8, bottom: 18 },
      xAxis: { type: 'log', ...axis, min: 0.02, max: 30, axisLabel: label },
      yAxis: {
        type: 'log',
        ...axis,
        axisLabel: { ...axis.axisLabel, formatter: (v: number) => `1e${Math.round(Math.log10(v))}` },
        splitNumber: 3,
      },
      series: laws.map((law, i) => ({
        type: 'line',
        symbol: 'none',
        data: angles.map((a) => [a, Math.max(1e-6, law(a) / unit)]),
        lineStyle: { width: 1.5, color: laws.length > 1 ? ['#e8776a', '#8fc27b', '#7ba4e0'][i] : '#f2b45f' },
      })),
    };
  }, [model, age, eyePigmentation, particleSize, sizeVariation]);
  return (
    <figure className="m-0" title={t`Light per steradian by the angle from its source.`}>
      <Chart option={option} className="h-24 w-full" />
    </figure>
  );
}
