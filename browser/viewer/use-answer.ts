import { useEffect, useRef, useState } from 'react';
import type { Finish } from '@/core/finish/finish';
import type { Engine } from '../engine/engine';
import { useEngine } from '../engine/use-engine';
import { useShot } from '../session/store';

/** What a question to the engine is about: the document and the frame that are shown. */
type Shown = { engine: Engine; finish: Finish; frame: number };

/**
 * What the engine answers about the document and the frame that are shown. It is asked once they have rested for `rest` milliseconds; until it answers, its
 * last answer stands. `about` says what else the question depends on. Nothing where it cannot be answered.
 */
export function useAnswer<T>(
  ask: (shown: Shown) => Promise<T | undefined>,
  about: string,
  rest = 60,
): T | undefined {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const [answer, setAnswer] = useState<T>();
  const newest = useRef(ask);
  newest.current = ask;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the question is another whenever what it is about is
  useEffect(() => {
    if (!started) return;
    let isCurrent = true;
    const timer = setTimeout(async () => {
      try {
        const found = await newest.current({ engine: started.engine, finish, frame });
        if (isCurrent) setAnswer(found);
      } catch (error) {
        // A question that another overtook says nothing.
        if (isCurrent && (error as Error).name !== 'AbortError') setAnswer(undefined);
      }
    }, rest);
    return () => {
      isCurrent = false;
      clearTimeout(timer);
    };
  }, [started, finish, frame, about, rest]);
  return answer;
}
