import { useEffect } from 'react';
import { useEngine } from '../engine/use-engine';
import { useShot } from '../session/store';

/** Small pictures of every place of the finish, and what advice wants to know of them, worked out anew a moment after each edit. */
export function useNoticing() {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const change = useShot((s) => s.change);
  useEffect(() => {
    if (!started) return;
    let current = true;
    // The viewer asks first.
    const timer = setTimeout(async () => {
      const noticed = await started.engine.thumbnails(finish, frame).catch(() => undefined);
      if (current && noticed) change({ noticed });
    }, 120);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [started, finish, frame, change]);
}
