import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useShot } from '@/browser/shot-store';
import { useThumbnails } from '@/browser/use-thumbnails';
import { addStep, freeId } from '@/core/finish/edits';
import { mainStrand } from '@/core/finish/finish';
import { rowsOf } from '@/core/finish/rows';
import { stepSpec } from '@/core/steps/registry';
import type { ShotDetail } from '@/server/shots/shots';
import { bottomOf, column, columnX, gutter, rowY, stepHeight, threadX } from './geometry';
import { HeadCard } from './HeadCard';
import { InsertButton } from './InsertButton';
import { StepCard } from './StepCard';
import { StepPalette } from './StepPalette';
import { Threads } from './Threads';

/** The strand board: columns are strands, rows are moments; it reads from top to bottom. */
export function Board({ shot }: { shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const change = useShot((s) => s.change);
  const edit = useShot((s) => s.edit);
  const thumbnails = useThumbnails();
  const [inserting, setInserting] = useState<{ strand: string; index: number } | null>(null);
  const scroller = useRef<HTMLDivElement>(null);

  const rows = rowsOf(finish);
  const main = mainStrand(finish);
  const strands = [main, ...finish.strands.filter((s) => s !== main)];
  const lastRow = Math.max(...rows.values());
  const end = bottomOf(rows.get(main.steps.at(-1)?.id ?? main.id)!) + 40;
  const height = bottomOf(lastRow) + 96;

  useHotkeys('insert', () => {
    const at = main.steps.findIndex((s) => s.id === selected);
    setInserting({ strand: main.id, index: at + 1 });
  });
  useEffect(() => {
    scroller.current?.querySelector('[data-selected=true]')?.scrollIntoView({ block: 'nearest' });
  });

  const insert = (type: string) => {
    if (!inserting) return;
    const id = freeId(finish, type);
    edit(addStep(inserting.strand, inserting.index, type, id));
    change({ selected: id });
    setInserting(null);
  };

  const stageRows = main.steps.map((s) => ({ id: s.id, stage: stepSpec(s.type)?.stage ?? '' }));
  return (
    <div ref={scroller} className="relative h-full overflow-auto" role="tree" aria-label="Strand board">
      <div className="relative" style={{ height, width: columnX(strands.length) + 4, minWidth: '100%' }}>
        <Threads strands={strands} rows={rows} selected={selected} endY={end} />
        <span className="absolute left-2 text-[10px] tracking-wide text-quiet" style={{ top: rowY(0) + 4 }}>
          Head
        </span>
        {stageRows.map(({ id, stage }, i) => (
          <span
            key={id}
            className="absolute left-2 text-[10px] tracking-wide text-quiet"
            style={{ top: rowY(rows.get(id)!) + stepHeight / 2 - 8, width: gutter - 10 }}
          >
            {stage !== stageRows[i - 1]?.stage && stage.replace(/^./, (c) => c.toUpperCase())}
          </span>
        ))}
        {strands.map((strand, i) => (
          <div key={strand.id} role="group" aria-label={strand.name}>
            <HeadCard strand={strand} x={columnX(i)} thumbnail={thumbnails[strand.id]} shot={shot} />
            {strand.steps.map((step) => (
              <StepCard
                key={step.id}
                step={step}
                idle={strand.kind === 'data'}
                x={columnX(i)}
                y={rowY(rows.get(step.id)!)}
                thumbnail={thumbnails[step.id]}
              />
            ))}
            {(strand === main || strand.steps.length > 0) &&
              [strand, ...strand.steps].map((item, index) => (
                <InsertButton
                  key={item.id}
                  x={threadX(i)}
                  y={bottomOf(rows.get(item.id)!) + 12}
                  label={`Add a step after ${'type' in item ? (stepSpec(item.type)?.name ?? item.type) : item.name}`}
                  onClick={() => setInserting({ strand: strand.id, index })}
                />
              ))}
          </div>
        ))}
        <div
          className="absolute text-[11px] text-quiet"
          style={{ left: columnX(0) + 30, top: end - 7, width: column - 30 }}
        >
          Finished picture
        </div>
      </div>
      {inserting && <StepPalette onPick={insert} onClose={() => setInserting(null)} />}
    </div>
  );
}
