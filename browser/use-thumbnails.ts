import { useEffect, useState } from 'react';
import type { Thumbnail } from './engine.worker';
import { useShot } from './shot-store';
import { useEngine } from './use-engine';

/** Small pictures of every place of the finish, worked out anew a moment after each edit. */
export function useThumbnails(): Record<string, Thumbnail> {
  const started = useEngine();
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const [thumbnails, set] = useState<Record<string, Thumbnail>>({});
  useEffect(() => {
    if (!started) return;
    let current = true;
    // The viewer asks first.
    const timer = setTimeout(async () => {
      const made = await started.engine.thumbnails(finish, frame).catch(() => undefined);
      if (current && made) set(made);
    }, 120);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [started, finish, frame]);
  return thumbnails;
}
