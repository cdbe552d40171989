import { useMemo } from 'react';
import { isOver } from '@/api/exports';
import { useExports } from '@/browser/session/use-shot-data';
import { useRunEnds } from './use-run-ends';

/** Says when an export of the shot ends, whether its panel is open or not. */
export function RunEnds({ shot }: { shot: number }) {
  const { data } = useExports(shot);
  const runs = useMemo(
    () =>
      (data ?? []).map((run) => ({
        ...run,
        isOver: isOver(run) && (!run.standing || run.cancelled),
        isCancelled: run.cancelled,
        failed: run.frames.filter((f) => f.state === 'failed').length,
        done: run.frames.filter((f) => f.state === 'done').length,
      })),
    [data],
  );
  useRunEnds(runs);
  return null;
}
