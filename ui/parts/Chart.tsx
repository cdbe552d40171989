import type { EChartsCoreOption } from 'echarts/core';
import { useEffect, useRef } from 'react';

type Props = { option: EChartsCoreOption; className?: string };

/** Parts of a chart's look that all charts here share: they follow the theme. */
export const axis = {
  axisLabel: { color: '#a9a9a9', fontSize: 10 },
  axisLine: { lineStyle: { color: '#3b3b3b' } },
  axisTick: { show: false },
  splitLine: { lineStyle: { color: '#2c2c2c' } },
};
export const channelColours = ['#ff8f87', '#8fcf9b', '#8fb4ff'];

/** A chart, loaded when the first one is wanted. */
export function Chart({ option, className }: Props) {
  const node = useRef<HTMLDivElement>(null);
  const wanted = useRef(option);
  const chart = useRef<{ setOption(o: EChartsCoreOption, notMerge?: boolean): void }>(undefined);
  wanted.current = option;
  useEffect(() => {
    let ended = false;
    let dispose = () => {};
    (async () => {
      const { init, use } = await import('echarts/core');
      const { HeatmapChart, LineChart, ScatterChart } = await import('echarts/charts');
      const { GridComponent, TooltipComponent, VisualMapComponent } = await import('echarts/components');
      const { CanvasRenderer } = await import('echarts/renderers');
      if (ended || !node.current) return;
      use([
        HeatmapChart,
        LineChart,
        ScatterChart,
        GridComponent,
        TooltipComponent,
        VisualMapComponent,
        CanvasRenderer,
      ]);
      const made = init(node.current);
      const observer = new ResizeObserver(() => made.resize());
      observer.observe(node.current);
      made.setOption(wanted.current);
      chart.current = made;
      dispose = () => {
        observer.disconnect();
        made.dispose();
      };
    })();
    return () => {
      ended = true;
      chart.current = undefined;
      dispose();
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption(option, true);
  }, [option]);
  return <div ref={node} className={className} />;
}
