import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Plus } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { RecipeSummary } from '@/api/recipes';
import type { ShotDetail } from '@/api/shots';
import { addFromPicture } from '@/browser/add-from-picture';
import { useEngine } from '@/browser/engine/use-engine';
import { useNoticing } from '@/browser/engine/use-noticing';
import { useRecipes } from '@/browser/recipes';
import { drawnBoard, useShot, useShotStore } from '@/browser/session/store';
import { type Edit, freeId } from '@/core/finish/edit';
import { addStep } from '@/core/finish/edits';
import {
  type Finish,
  findStep,
  mainStrand,
  type Step,
  type Strand,
  stepName,
  strandOf,
} from '@/core/finish/finish';
import { firstLink, withFirstLink } from '@/core/finish/first-link';
import { kindAt, kindsAlong, worksOn } from '@/core/finish/flow';
import { type Beginning, startJoined } from '@/core/finish/new-strand';
import { rowsOf } from '@/core/finish/rows';
import { isInput, isUse } from '@/core/finish/uses';
import { stepSpec } from '@/core/steps/registry';
import { useKey } from '../parts/use-key';
import { addRecipeHere } from '../recipes/use-tools';
import { dropped, whereDropped } from './drag';
import { bottomOf, column, columnX, gap, gutter, rowY, stepHeight, threadX } from './geometry';
import { HeadCard } from './HeadCard';
import { InsertButton } from './InsertButton';
import { Bracket, brackets, InputCard, useUnfoldedSelection } from './recipe-cards';
import { StepCard } from './StepCard';
import { StepPalette } from './StepPalette';
import { StrandPalette } from './StrandPalette';
import { TapPoint } from './TapPoint';
import { Threads } from './Threads';

/** The strand board: columns are strands, rows are moments; it reads from top to bottom. */
export function Board({ shot }: { shot: ShotDetail }) {
  const store = useShotStore();
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const started = useEngine();
  useNoticing();
  // Asked for before the palette opens: who types a recipe’s name and presses Enter shall find it.
  useRecipes();
  const { thumbnails } = useShot((s) => s.noticed);
  const [inserting, setInserting] = useState<{ strand: string; index: number } | null>(null);
  const [starting, setStarting] = useState(false);
  const [carried, setCarried] = useState('');
  const scroller = useRef<HTMLDivElement>(null);
  // A click is no drag.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));

  const board = useShot(drawnBoard);
  useUnfoldedSelection();
  const rows = rowsOf(board);
  const main = mainStrand(board);
  const strands = [main, ...board.strands.filter((s) => s !== main)];
  // What is hidden changes kinds too.
  const kinds = new Map(
    strands.map((s) => [
      s.id,
      ['head', ...s.steps.map((t) => t.id)].map((after) => kindAt(finish, s.id, after)),
    ]),
  );
  const lastRow = Math.max(...rows.values());
  const stepsOf = (s: Strand) => (s.folded ? [] : s.steps);
  const end = bottomOf(rows.get(stepsOf(main).at(-1)?.id ?? main.id)!) + 40;
  const height = bottomOf(lastRow) + 96;

  useKey('insert', () => {
    const found = findStep(finish, selected ?? '');
    const strand = strandOf(finish, selected ?? '');
    setInserting({ strand: strand.id, index: found ? found.index + 1 : 0 });
  });
  useKey('shift+insert', () => setStarting(true));
  const insert = async (type: string, index: number) => {
    if (!inserting) return;
    const id = freeId(finish, type);
    const { strand } = inserting;
    setInserting(null);
    const link = firstLink(type, shot.media);
    /** The step on the document as it is by then, with the pass that there is. */
    const added = (doc: Finish): Edit => {
      const steps = doc.strands.find((s) => s.id === strand)?.steps.length ?? 0;
      const step = addStep(strand, Math.min(index, steps), type, id, shot.width);
      return link ? withFirstLink(step, id, type, link) : step;
    };
    await addFromPicture(store, started?.engine, added, id);
  };
  const insertRecipe = async (chosen: RecipeSummary, index: number) => {
    if (!inserting) return;
    const { strand } = inserting;
    setInserting(null);
    await addRecipeHere(store, shot, chosen, { strand, index });
  };
  const begin = (from: Beginning) => {
    const at = findStep(finish, selected ?? '');
    const onto = strandOf(finish, selected ?? '');
    const index = at ? at.index + 1 : onto.steps.length;
    const begun = startJoined(finish, from, { strand: onto.id, index });
    setStarting(false);
    addFromPicture(store, started?.engine, () => begun.edit, begun.selects);
  };
  const worked = strandOf(finish, selected ?? '');
  const above = findStep(finish, selected ?? '')?.step.id ?? 'head';
  const drop = ({ active, over }: DragEndEvent) => {
    setCarried('');
    if (over) dropped(store, String(active.id), String(over.id));
  };
  const nameOf = (id: string) => {
    const step = findStep(finish, id)?.step;
    return step ? stepName(step) : 'link';
  };

  // Only the columns that are seen are drawn: forty strands stay fluent.
  const columns = useVirtualizer({
    horizontal: true,
    count: strands.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => column + gap,
    paddingStart: gutter,
    overscan: 2,
  });
  const seen = columns.getVirtualItems().map((c) => c.index);
  const [first, last] = [seen[0] ?? 0, seen.at(-1) ?? strands.length - 1];
  // A strand that is selected by key may not be drawn yet.
  const chosen = strands.findIndex((s) => s.id === selected || s.steps.some((t) => t.id === selected));
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when another strand is chosen
  useEffect(() => {
    if (chosen >= 0 && (chosen < first || chosen > last)) columns.scrollToIndex(chosen);
  }, [chosen]);

  const drawn = seen.length > 0;
  const looked = useRef(false);
  useEffect(() => {
    if (!selected || !drawn) return;
    // What a shot is opened at stands in the middle; from then on the board moves as little as it must.
    const block = looked.current ? 'nearest' : 'center';
    const card = scroller.current?.querySelector('[data-selected=true]');
    card?.scrollIntoView({ block, inline: 'nearest' });
    looked.current ||= card !== undefined && card !== null;
  }, [selected, drawn]);

  /** The index in the finish of what stands below an item of the board. */
  const indexAfter = (item: Strand | Step) => ('type' in item ? findStep(finish, item.id)!.index + 1 : 0);
  const stageRows = stepsOf(main).map((s) => ({
    id: s.id,
    stage: isUse(s) ? 'recipe' : isInput(s) ? '' : (stepSpec(s.type)?.stage ?? ''),
  }));
  const inserted = finish.strands.find((s) => s.id === inserting?.strand);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={whereDropped}
      onDragStart={({ active }) => setCarried(nameOf(String(active.id)))}
      onDragEnd={drop}
      onDragCancel={() => setCarried('')}
    >
      <div ref={scroller} className="relative h-full overflow-auto" role="tree" aria-label="Strand board">
        <div className="relative" style={{ height, width: columnX(strands.length) + 44, minWidth: '100%' }}>
          <Threads
            strands={strands}
            kinds={kinds}
            rows={rows}
            selected={selected}
            endY={end}
            first={first}
            last={last}
          />
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
          {seen
            .map((i) => ({ strand: strands[i], i }))
            .map(({ strand, i }) => (
              <div key={strand.id} role="group" aria-label={strand.name}>
                <HeadCard
                  strand={strand}
                  x={columnX(i)}
                  row={rows.get(strand.id)!}
                  thumbnail={thumbnails[strand.id]}
                  shot={shot}
                />
                {brackets(strand, stepsOf(strand)).map(({ use, first, last }) => (
                  <Bracket
                    key={use}
                    use={use}
                    x={columnX(i)}
                    y={rowY(rows.get(first)!)}
                    bottom={bottomOf(rows.get(last)!)}
                  />
                ))}
                {stepsOf(strand).map((step, at) =>
                  isInput(step) ? (
                    <InputCard
                      key={step.id}
                      x={columnX(i)}
                      y={rowY(rows.get(step.id)!)}
                      thumbnail={thumbnails[step.id]}
                    />
                  ) : (
                    <StepCard
                      key={step.id}
                      step={step}
                      inactive={
                        worksOn(step.type, kinds.get(strand.id)![at]) ? undefined : kinds.get(strand.id)![at]
                      }
                      x={columnX(i)}
                      y={rowY(rows.get(step.id)!)}
                      thumbnail={thumbnails[step.id]}
                    />
                  ),
                )}
                {[strand, ...stepsOf(strand)].map((item) => (
                  <InsertButton
                    key={item.id}
                    id={`point:${strand.id}:${indexAfter(item)}`}
                    x={threadX(i)}
                    y={bottomOf(rows.get(item.id)!) + 12}
                    // A strand without steps is mostly there to be taken from: its plus waits for the hand.
                    quiet={strand !== main && strand.steps.length === 0}
                    label={`Add a step after ${'type' in item ? stepName(item) : item.name}`}
                    onClick={() => setInserting({ strand: strand.id, index: indexAfter(item) })}
                  />
                ))}
                {[strand, ...stepsOf(strand)].map((item) => (
                  <TapPoint
                    key={item.id}
                    id={`tap:${strand.id}:${'type' in item ? item.id : 'head'}`}
                    x={columnX(i) + column}
                    y={bottomOf(rows.get(item.id)!)}
                    label={`Link from ${'type' in item ? stepName(item) : item.name}: drag to a step`}
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
          <button
            type="button"
            className="absolute grid size-7 cursor-pointer place-content-center rounded-full border border-dashed border-line text-quiet hover:border-primary hover:text-primary"
            style={{ left: columnX(strands.length) + 2, top: rowY(0) + 16 }}
            aria-label="Add a strand"
            title="Add a strand (Shift Ins)"
            onClick={() => setStarting(true)}
          >
            <Plus size={15} />
          </button>
        </div>
        {inserting && inserted && (
          <StepPalette
            strand={inserted}
            kind={kindsAlong(finish, inserted)[inserting.index]}
            index={inserting.index}
            onPick={insert}
            onRecipe={insertRecipe}
            onClose={() => setInserting(null)}
          />
        )}
        {starting && (
          <StrandPalette
            shot={shot}
            from={{ strand: worked.id, after: above, name: worked.name }}
            onPick={begin}
            onClose={() => setStarting(false)}
          />
        )}
      </div>
      <DragOverlay dropAnimation={null}>
        {carried && (
          <span className="rounded-box border border-primary bg-base-300 px-3 py-1.5 text-[13px] shadow-lg">
            {carried}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}
