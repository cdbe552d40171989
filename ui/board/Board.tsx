import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { RecipeSummary } from '@/api/recipes';
import type { ShotDetail } from '@/api/shots';
import { addFromPicture } from '@/browser/add-from-picture';
import { useEngine } from '@/browser/engine/use-engine';
import { useRecipes } from '@/browser/recipes';
import { mayOnlyLook, useShot, useShotStore } from '@/browser/session/store';
import { useNoticing } from '@/browser/viewer/use-noticing';
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
import { kindsAlong, worksOn } from '@/core/finish/flow';
import { type Beginning, startJoined } from '@/core/finish/new-strand';
import { isInput, isUse } from '@/core/finish/uses';
import { stepSpec } from '@/core/steps/registry';
import { useCommand } from '../keys/use-command';
import { addRecipeHere } from '../recipes/use-tools';
import { t } from '../words/words';
import { BoardBar } from './BoardBar';
import { BoardSearch } from './BoardSearch';
import { type BoardView, createBoardView, detailFrom } from './board-view';
import { dropped, spokenDrag, whereDropped } from './drag';
import { EdgePan } from './EdgePan';
import { Groups } from './Groups';
import { bottomOf, type Column, gutter, headHeight, rowY, stepHeight, threadX } from './geometry';
import { HeadCard } from './HeadCard';
import { InsertButton } from './InsertButton';
import { jump, jumpBack, LinkList, linksNow } from './LinkList';
import { Overview } from './Overview';
import { Bracket, brackets, InputCard, useUnfoldedSelection } from './recipe-cards';
import { StepCard } from './StepCard';
import { StepPalette } from './StepPalette';
import { StrandPalette } from './StrandPalette';
import { TapPoint } from './TapPoint';
import { Threads } from './Threads';
import { type BoardLayout, stepsOf, useBoardLayout, useFeeding } from './use-board';

/** The strand board: columns are strands, rows are moments; it reads from top to bottom. */
export function Board({ shot }: { shot: ShotDetail }) {
  const store = useShotStore();
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const started = useEngine();
  useNoticing();
  // Asked for before the palette opens: who types a recipe’s name and presses Enter shall find it.
  useRecipes();
  const [inserting, setInserting] = useState<{ strand: string; index: number } | null>(null);
  const [starting, setStarting] = useState(false);
  const [searching, setSearching] = useState(false);
  const [following, setFollowing] = useState(false);
  const [carried, setCarried] = useState('');
  const panel = useRef<HTMLDivElement>(null);
  const content = useRef<HTMLDivElement>(null);
  const [view] = useState(createBoardView);
  // A click is no drag.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  useUnfoldedSelection();
  const layout = useBoardLayout();
  const { board, columns, rows, kinds, endY, width, height } = layout;
  const main = mainStrand(board);
  const feeding = useFeeding(board);

  const looksOnly = useShot((s) => s.looksOnly);
  /** Says why nothing may be added, where somebody may only look. */
  const mayAdd = () => {
    if (looksOnly) store.getState().change({ refusal: { ...mayOnlyLook } });
    return !looksOnly;
  };
  useCommand('add-step', () => {
    if (!mayAdd()) return;
    const found = findStep(finish, selected ?? '');
    const strand = strandOf(finish, selected ?? '');
    setInserting({ strand: strand.id, index: found ? found.index + 1 : 0 });
  });
  useCommand('add-strand', () => mayAdd() && setStarting(true));
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
      return link ? withFirstLink(step, id, link) : step;
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

  const follow = () => {
    const links = linksNow(store);
    if (links.length === 1) jump(store, links[0].id);
    else setFollowing(true);
  };
  useCommand('links', follow);
  useCommand('links-back', () => jumpBack(store));
  useCommand('search', () => setSearching(true));
  useCommand('feeds', () => {
    const { feedsOnly, change } = store.getState();
    change({ feedsOnly: !feedsOnly });
  });
  useCommand('fit-board', view.fit);
  useCommand('board-larger', () => view.zoomBy(1.25));
  useCommand('board-smaller', () => view.zoomBy(1 / 1.25));

  useEffect(() => view.attach(panel.current!, content.current!), [view]);
  useEffect(() => view.resize(width, height), [view, width, height]);
  useShownSelection(view, layout, selected, panel);
  const [first, last] = useStore(
    view.seen,
    useShallow((seen) => columnsSeen(columns, seen.x, seen.k, seen.width)),
  );
  const detailed = useStore(view.seen, (seen) => seen.k >= detailFrom);

  /** The index in the finish of what stands below an item of the board. */
  const indexAfter = (item: Strand | Step) => ('type' in item ? findStep(finish, item.id)!.index + 1 : 0);
  const stageRows = stepsOf(main).map((s) => ({
    id: s.id,
    stage: isUse(s) ? 'recipe' : isInput(s) ? '' : (stepSpec(s.type)?.stage ?? ''),
  }));
  const inserted = finish.strands.find((s) => s.id === inserting?.strand);
  const isFaded = (id: string) => feeding !== undefined && !feeding.has(id);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={whereDropped}
      autoScroll={false}
      accessibility={spokenDrag(finish)}
      onDragStart={({ active }) => setCarried(nameOf(String(active.id)))}
      onDragEnd={drop}
      onDragCancel={() => setCarried('')}
    >
      <EdgePan view={view} panel={panel} />
      <section className="relative h-full" aria-label={t`Strand board`}>
        <div
          ref={panel}
          className="absolute inset-x-0 top-0 bottom-8 cursor-grab touch-none overflow-clip active:cursor-grabbing"
          data-testid="board"
        >
          <div
            ref={content}
            className="absolute top-0 left-0 origin-top-left"
            style={{ width, height }}
            data-far={detailed ? undefined : true}
          >
            <Groups finish={finish} columns={columns} height={height} />
            <Threads
              columns={columns}
              kinds={kinds}
              rows={rows}
              selected={selected}
              feeding={feeding}
              endY={endY}
              first={first}
              last={last}
            />
            <span
              className="absolute left-2 text-[10px] tracking-wide text-quiet"
              style={{ top: rowY(0) + 4 }}
            >
              {t`Head`}
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
            {columns.slice(first, last + 1).map((column) => {
              const { strand, x, width } = column;
              return (
                <div key={strand.id} role="group" aria-label={strand.name}>
                  <HeadCard
                    strand={strand}
                    column={column}
                    row={rows.get(strand.id)!}
                    shot={shot}
                    faded={isFaded(strand.id)}
                  />
                  {brackets(strand, stepsOf(strand)).map(({ use, first, last }) => (
                    <Bracket
                      key={use}
                      use={use}
                      x={x}
                      width={width}
                      y={rowY(rows.get(first)!)}
                      bottom={bottomOf(rows.get(last)!)}
                    />
                  ))}
                  {stepsOf(strand).map((step, at) =>
                    isInput(step) ? (
                      <InputCard
                        key={step.id}
                        id={step.id}
                        x={x}
                        width={width}
                        y={rowY(rows.get(step.id)!)}
                      />
                    ) : (
                      <StepCard
                        key={step.id}
                        step={step}
                        inactive={
                          worksOn(step.type, kinds.get(strand.id)![at])
                            ? undefined
                            : kinds.get(strand.id)![at]
                        }
                        x={x}
                        width={width}
                        y={rowY(rows.get(step.id)!)}
                        faded={isFaded(step.id)}
                      />
                    ),
                  )}
                  {detailed &&
                    !strand.folded &&
                    !looksOnly &&
                    [strand, ...stepsOf(strand)].map((item) => (
                      <InsertButton
                        key={item.id}
                        id={`point:${strand.id}:${indexAfter(item)}`}
                        x={threadX(column)}
                        y={bottomOf(rows.get(item.id)!) + 12}
                        // A strand without steps is mostly there to be taken from: its plus waits for the hand.
                        quiet={strand !== main && strand.steps.length === 0}
                        label={t`Add a step after ${'type' in item ? stepName(item) : item.name}`}
                        onClick={() => setInserting({ strand: strand.id, index: indexAfter(item) })}
                      />
                    ))}
                  {detailed &&
                    !looksOnly &&
                    [strand, ...stepsOf(strand)].map((item) => (
                      <TapPoint
                        key={item.id}
                        id={`tap:${strand.id}:${'type' in item ? item.id : 'head'}`}
                        x={x + width}
                        y={bottomOf(rows.get(item.id)!)}
                        label={t`Link from ${'type' in item ? stepName(item) : item.name}: drag to a step`}
                      />
                    ))}
                </div>
              );
            })}
            <div
              className="absolute text-[11px] text-quiet"
              style={{ left: columns[0].x + 30, top: endY - 7, width: columns[0].width - 30 }}
            >
              {t`Finished picture`}
            </div>
          </div>
        </div>
        <Overview layout={layout} view={view} />
        <BoardBar
          view={view}
          onStrand={() => setStarting(true)}
          onSearch={() => setSearching(true)}
          onLinks={() => setFollowing(true)}
        />
        {searching && <BoardSearch layout={layout} onClose={() => setSearching(false)} />}
        {following && <LinkList links={linksNow(store)} onClose={() => setFollowing(false)} />}
        {inserting && inserted && (
          <StepPalette
            strand={inserted}
            kind={kindsAlong(finish, inserted)[inserting.index]}
            index={inserting.index}
            shot={shot}
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
      </section>
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

/** Numbers of the first and the last column that are seen, and one more on each side. */
function columnsSeen(columns: readonly Column[], x: number, k: number, room: number): [number, number] {
  const [left, right] = [-x / k, (room - x) / k];
  const first = columns.findIndex((c) => c.x + c.width > left);
  const after = columns.findIndex((c) => c.x > right);
  return [Math.max(0, first - 1), after < 0 ? columns.length - 1 : after];
}

/** What is selected is seen: in the middle when a shot is opened, and from then on the board moves as little as it must. */
function useShownSelection(
  view: BoardView,
  { columns, rows }: BoardLayout,
  selected: string | undefined,
  panel: React.RefObject<HTMLElement | null>,
) {
  const measured = useStore(view.seen, (seen) => seen.width > 0);
  const looked = useRef(false);
  const column = columns.find(
    ({ strand }) => strand.id === selected || strand.steps.some((s) => s.id === selected),
  );
  const isHead = column?.strand.id === selected || column?.strand.folded;
  const row = column && rows.get(isHead ? column.strand.id : selected!);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when it is selected or moved, not when the board changes elsewhere
  useEffect(() => {
    if (!measured || !column || row === undefined) return;
    const high = row === 0 ? headHeight : stepHeight;
    view.show({ x: column.x, y: rowY(row), width: column.width, height: high }, !looked.current);
    looked.current = true;
    // Who goes through the board by keyboard has the focus on what is selected.
    const inside = panel.current;
    if (!inside?.contains(document.activeElement)) return;
    requestAnimationFrame(() => {
      const card = inside.querySelector<HTMLElement>('[data-card][data-selected=true]');
      if (card && card !== document.activeElement && document.activeElement?.hasAttribute('data-card'))
        card.focus({ preventScroll: true });
    });
  }, [measured, selected, row, column?.x]);
}
