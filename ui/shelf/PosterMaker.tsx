import { useEffect, useRef } from 'react';
import { useStartedEngine } from '@/browser/engine/use-engine';
import { type Missing, makePoster } from '@/browser/shelf/posters';

const noMedia = {};

/** Makes posters that are missing, one after the other, while the shelf is looked at. */
export function PosterMaker({ missing, onMade }: { missing: readonly Missing[]; onMade(): void }) {
  const { started } = useStartedEngine(noMedia);
  const engine = started?.engine;
  const now = useRef({ missing, onMade });
  now.current = { missing, onMade };
  useEffect(() => {
    if (!engine) return;
    let left = false;
    // One that cannot be made is not tried again and again.
    const tried = new Set<number>();
    (async () => {
      while (!left) {
        const next = now.current.missing.find((m) => !tried.has(m.finish));
        if (!next) return;
        tried.add(next.finish);
        const made = await makePoster(engine, next).then(
          () => true,
          () => false,
        );
        if (made && !left) now.current.onMade();
      }
    })();
    return () => {
      left = true;
    };
  }, [engine]);
  return null;
}
