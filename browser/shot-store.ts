import { createContext, useContext } from 'react';
import { temporal } from 'zundo';
import { createStore, useStore } from 'zustand';
import { type Edit, setValue } from '../core/finish/edits';
import { type Finish, findStep, mainStrand } from '../core/finish/finish';
import type { Look } from '../core/kernels/display';
import type { Value } from '../core/steps/define';

export type SaveState =
  | { state: 'saved' }
  | { state: 'saving' }
  | { state: 'failed'; why: string }
  | { state: 'conflict'; newest: number };

/** A value being dragged: shown at once, part of the document only when let go. */
export type Preview = { step: string; key: string; value: Value };

export type ShotState = {
  finish: Finish;
  /** What the newest edit did, for "Undo: …". */
  says: string;
  preview?: Preview;
  selected?: string;
  frame: number;
  look: Look;
  stops: number;
  /** The viewer shows the end of the main strand, or the place after the selected step. */
  shows: 'finished' | 'selected';
  /** While true the viewer shows the strand as it came in. */
  before: boolean;
  theatre: boolean;
  save: SaveState;
  edit(edit: Edit): void;
  change(part: Partial<Omit<ShotState, 'finish' | 'says' | 'edit' | 'change'>>): void;
  /** Another version of the document from the server, in place of this one. */
  replace(finish: Finish): void;
};

/** What the user works on in the shot screen; undo and redo cover the document alone. */
export function createShotStore(finish: Finish, frame: number) {
  return createStore<ShotState>()(
    temporal(
      (set, get) => ({
        finish,
        says: '',
        frame,
        look: 'colour',
        stops: 0,
        shows: 'finished',
        before: false,
        theatre: false,
        save: { state: 'saved' },
        selected: mainStrand(finish).steps[0]?.id,
        edit: (edit) => set({ finish: edit.apply(get().finish), says: edit.says, preview: undefined }),
        change: (part) => set(part),
        replace: (other) => set({ finish: other, says: 'take the other version', preview: undefined }),
      }),
      {
        partialize: ({ finish, says }) => ({ finish, says }),
        equality: (a, b) => a.finish === b.finish,
        limit: 500,
      },
    ),
  );
}

export type ShotStore = ReturnType<typeof createShotStore>;

export const ShotContext = createContext<ShotStore | null>(null);

export const useShotStore = () => useContext(ShotContext)!;

/** Part of the shot screen's state. */
export const useShot = <T>(part: (s: ShotState) => T): T => useStore(useShotStore(), part);

const drags = new WeakMap<Preview, { of: Finish; doc: Finish }>();

/** The document with what is being dragged; the same object for the same state, as React's store hooks ask. */
export function previewed({ finish, preview }: Pick<ShotState, 'finish' | 'preview'>): Finish {
  if (!preview || !findStep(finish, preview.step)) return finish;
  let drag = drags.get(preview);
  if (drag?.of !== finish) {
    drag = { of: finish, doc: setValue(finish, preview.step, preview.key, preview.value).apply(finish) };
    drags.set(preview, drag);
  }
  return drag.doc;
}
