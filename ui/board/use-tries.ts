import { useEffect, useState } from 'react';
import type { Thumbnail } from '@/browser/engine/answers';
import { useEngine } from '@/browser/engine/use-engine';
import { useShotStore } from '@/browser/session/store';
import type { StrandPoint } from '@/core/evaluate/plan/node';
import type { Edit } from '@/core/finish/edit';
import type { Finish } from '@/core/finish/finish';
import { startedFrom, startingSteps } from '@/core/finish/start-values';

/** What would be added: by an edit, and where its picture is then. */
export type Try = { key: string; of(doc: Finish): { edit: Edit; point: StrandPoint } };

/** Small pictures of what there is to add, on the frame that is looked at: one after the other, in the order of the list, while it is open. */
export function useTries(tries: readonly Try[]): ReadonlyMap<string, Thumbnail> {
  const store = useShotStore();
  const started = useEngine();
  const [pictures, setPictures] = useState<ReadonlyMap<string, Thumbnail>>(new Map());
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is tried is known by its keys
  useEffect(() => {
    if (!started) return;
    const { engine } = started;
    let left = false;
    (async () => {
      const { finish, frame } = store.getState();
      const done = new Set(pictures.keys());
      for (const { key, of } of tries) {
        if (left) return;
        if (done.has(key)) continue;
        done.add(key);
        try {
          const { edit, point } = of(finish);
          const tried = edit.apply(finish);
          let begun = edit;
          for (const id of startingSteps(finish, tried)) {
            const facts = await engine.start(tried, id, frame).catch(() => undefined);
            if (facts) begun = startedFrom(begun, id, facts);
          }
          const doc = begun === edit ? tried : begun.apply(finish);
          const picture = await engine.tried(doc, point, frame);
          if (picture && !left) setPictures((known) => new Map(known).set(key, picture));
        } catch {
          // What cannot be added here, or has no picture on this frame, is shown without.
        }
      }
    })();
    return () => {
      left = true;
    };
  }, [started, store, tries.map((t) => t.key).join(' ')]);
  return pictures;
}
