import { X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import type { Stop } from '@/browser/engine/answers';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot } from '@/browser/session/store';
import { stepName } from '@/core/finish/finish';
import { changesOf } from '@/core/scopes/journey';
import { axis, Chart, channelColours } from '../parts/Chart';
import { formatLight } from '../parts/format-value';
import { IconButton } from '../parts/IconButton';
import { t } from '../words/words';
import type { Pointed } from './PictureCanvas';

/** The value of one pixel after every step of its way to the finished picture, and what each step did to it. */
export function Journey({ at, onClose }: { at: Pointed; onClose(): void }) {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const change = useShot((s) => s.change);
  const [stops, setStops] = useState<Stop[]>([]);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    let current = true;
    setProblem('');
    started?.engine
      .journey(finish, finish.main, frame, at.x, at.y)
      .then((found) => current && found && setStops(found))
      .catch((error) => current && setProblem((error as Error).message));
    return () => {
      current = false;
    };
  }, [started, finish, frame, at]);

  const rows = stops.map((stop, i) => {
    const strand = finish.strands.find((s) => s.id === stop.strand);
    const step = strand?.steps.find((s) => s.id === stop.step);
    const before = stops.slice(0, i).findLast((s) => s.strand === stop.strand);
    return {
      ...stop,
      strandName: strand?.name ?? '',
      name: step ? stepName(step) : 'head',
      changes: changesOf(before?.kind === stop.kind ? before.rgba : undefined, stop.rgba, stop.kind),
    };
  });
  return (
    <section
      className="grid max-h-72 grid-cols-[minmax(0,1fr)_15rem] border-t border-line bg-base-100 text-xs"
      aria-label={t`Pixel journey`}
    >
      <div className="overflow-y-auto">
        <header className="sticky top-0 flex items-center gap-2 bg-base-100 px-3 py-1">
          <h3 className="text-[13px] font-semibold">{t`Journey of pixel ${at.x}, ${at.y}`}</h3>
          <span className="ml-auto" />
          <IconButton icon={X} label={t`Close the journey`} onClick={onClose} />
        </header>
        {problem && (
          <p role="alert" className="px-3 pb-2 text-error">
            {problem}
          </p>
        )}
        <table className="table table-xs">
          <tbody>
            {rows.map((r) => (
              <tr
                key={`${r.strand}/${r.step ?? 'head'}`}
                data-stop={r.step ?? `${r.strand}-head`}
                className="cursor-pointer hover:bg-base-300"
                onClick={() => change({ selected: r.step ?? r.strand })}
              >
                <td className="text-quiet">{r.strandName}</td>
                <td className="font-medium">{r.name}</td>
                {r.rgba.map((v, c) => (
                  <td key={'RGBA'[c]} className={`text-right ${c < 3 && v < 0 ? 'text-info' : ''}`}>
                    {formatLight(v)}
                  </td>
                ))}
                <td className="text-secondary">{r.changes.join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <JourneyChart stops={rows.filter((r) => r.strand === finish.main)} />
    </section>
  );
}

/** Red, green and blue along the main strand. */
function JourneyChart({ stops }: { stops: { name: string; rgba: Stop['rgba'] }[] }) {
  const key = JSON.stringify(stops);
  const option = useMemo(() => {
    const along: { name: string; rgba: (number | null)[] }[] = JSON.parse(key);
    return {
      animation: false,
      grid: { left: 36, right: 12, top: 14, bottom: 22 },
      tooltip: {
        trigger: 'axis',
        confine: true,
        backgroundColor: '#151515',
        borderColor: '#3b3b3b',
        textStyle: { color: '#e9e9e9', fontSize: 11 },
      },
      xAxis: { type: 'category', data: along.map((s) => s.name), ...axis },
      yAxis: { type: 'value', ...axis },
      series: ['R', 'G', 'B'].map((name, c) => ({
        name,
        type: 'line',
        // JSON knows no infinities: what is not finite has become null.
        data: along.map((s) => s.rgba[c]),
        symbolSize: 4,
        lineStyle: { width: 1.5 },
        color: channelColours[c],
      })),
    };
  }, [key]);
  return <Chart option={option} className="min-h-36 border-l border-line" />;
}
