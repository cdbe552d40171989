import { useMemo } from 'react';
import { drawnBoard, useShot } from '@/browser/session/store';
import { columnsOf } from '@/core/finish/columns';
import { feedsOf } from '@/core/finish/feeds';
import { type Finish, mainStrand, type Step, type Strand } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { rowsOf } from '@/core/finish/rows';
import type { Kind } from '@/core/picture/kind';
import { bottomOf, type Column, columnsAlong, endOf } from './geometry';

export type BoardLayout = {
  board: Finish;
  columns: Column[];
  rows: Map<string, number>;
  /** Kinds of each strand after its head and each step. */
  kinds: Map<string, readonly Kind[]>;
  /** Where the main strand ends. */
  endY: number;
  width: number;
  height: number;
};

/** Steps that stand on the board: of a folded strand none. */
export const stepsOf = (s: Strand): Step[] => (s.folded ? [] : s.steps);

/** Where everything stands on the board. */
export function useBoardLayout(): BoardLayout {
  const finish = useShot((s) => s.finish);
  const board = useShot(drawnBoard);
  return useMemo(() => {
    const strands = columnsOf(board);
    const main = mainStrand(board);
    const rows = rowsOf(board);
    // What is hidden changes kinds too.
    const kinds = new Map(
      strands.map((s) => [
        s.id,
        ['head', ...s.steps.map((t) => t.id)].map((after) => kindAt(finish, s.id, after)),
      ]),
    );
    const columns = columnsAlong(strands, (s) => kinds.get(s.id)![0], main.id);
    const lowest = Math.max(...strands.flatMap((s) => [s, ...stepsOf(s)].map((item) => rows.get(item.id)!)));
    const endY = bottomOf(rows.get(stepsOf(main).at(-1)?.id ?? main.id)!) + 40;
    return {
      board,
      columns,
      rows,
      kinds,
      endY,
      width: endOf(columns) + 12,
      height: Math.max(bottomOf(lowest), endY) + 56,
    };
  }, [finish, board]);
}

/** Ids of what is not faded, where only what feeds the selected point is shown. */
export function useFeeding(board: Finish): ReadonlySet<string> | undefined {
  const of = useShot((s) => (s.feedsOnly ? s.selected : undefined));
  return useMemo(() => (of === undefined ? undefined : feedsOf(board, of)), [board, of]);
}
