import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { t } from '../words/words';

const framesDone = (done: number) => t`${done} frames done`;

type Run = {
  id: number;
  fileName: string;
  isOver: boolean;
  isCancelled: boolean;
  failed: number;
  done: number;
};

/** Says when an export ends that one has seen going on. */
export function useRunEnds(runs: readonly Run[]) {
  const going = useRef(new Set<number>());
  useEffect(() => {
    for (const { id, fileName, isOver, isCancelled, failed, done } of runs) {
      if (!isOver) going.current.add(id);
      else if (going.current.delete(id) && !isCancelled) {
        const words = t`${fileName}: ${framesDone(done)}${failed > 0 && t`, ${failed} failed`}.`;
        failed > 0 ? toast.error(words, { duration: 20_000 }) : toast.success(words);
      }
    }
  }, [runs]);
}
