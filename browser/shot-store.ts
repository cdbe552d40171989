import { createContext, useContext } from 'react';
import { temporal } from 'zundo';
import { createStore, useStore } from 'zustand';
import type { Place } from '../core/evaluate/plan';
import type { Edit } from '../core/finish/edit';
import { type Finish, mainStrand } from '../core/finish/finish';
import type { Look } from '../core/kernels/display';
import type { Size } from '../core/picture/region';
import type { Backing, MatteLook } from '../core/scopes/looking';
import type { Noticed } from './engine.worker';

export type SaveState =
  | { state: 'saved' }
  | { state: 'saving' }
  | { state: 'failed'; why: string }
  | { state: 'conflict'; newest: number };

export const compareModes = {
  off: 'One picture',
  wipe: 'Wipe',
  side: 'Side by side',
  difference: 'Difference',
} as const;

/** The other picture of a comparison: `input`, `still`, `place:strand:after` or `version:number`; the wipe's line by angle and a point, in shares. */
export type Comparing = {
  mode: keyof typeof compareModes;
  with: string;
  gain: number;
  angle: number;
  at: [number, number];
};

export type Box = { x: number; y: number; width: number; height: number };

export const drawTools = {
  path: 'Path',
  rectangle: 'Rectangle',
  ellipse: 'Ellipse',
  freehand: 'Freehand',
} as const;
export type DrawTool = keyof typeof drawTools;
/** A tool on the picture: frames a region, draws a shape, or picks a colour for a value of a step. */
export type Tool =
  | { sort: 'region' }
  | { sort: 'draw'; with: DrawTool; strand: string }
  /** `row`: the colour goes into that row of a table. */
  | { sort: 'pick-colour'; step: string; key: string; adds: boolean; row?: number }
  /** A place in the scene, from the positions that come to a step. */
  | { sort: 'pick-position'; step: string };

export type ShotState = {
  finish: Finish;
  /** What the newest edit did, for "Undo: …". */
  says: string;
  /** What is being dragged: shown at once, part of the document only when let go. */
  preview?: Edit;
  selected?: string;
  frame: number;
  /** Of the full frame, in pixels. */
  size: Size;
  look: Look;
  stops: number;
  gamma: number;
  backing: Backing;
  marks: boolean;
  /** What is shown against what, and how. */
  compare: Comparing;
  /** What was pinned to compare with: as it was then, with its frame. */
  still?: { finish: Finish; place: Place; frame: number };
  /** How the matte of the selected step, or the selected matte, is shown over the picture. */
  matteLook: MatteLook;
  /** The part of the picture that alone is computed and shown, in pixels of the full frame. */
  region?: Box;
  /** What a drag or a click on the picture does, if it is not to look. */
  tool?: Tool;
  /** The shape that is worked on, and which of its points. */
  shape?: string;
  points: readonly number[];
  /** While true the other picture of a comparison is shown alone. */
  flipped: boolean;
  /** The viewer shows the end of the main strand, or the place after the selected step. */
  shows: 'finished' | 'selected';
  /** While true the viewer shows the strand as it came in. */
  before: boolean;
  theatre: boolean;
  /** The scopes are shown. */
  scopes: boolean;
  /** Small pictures of every place, and what was noticed in them. */
  noticed: Noticed;
  save: SaveState;
  edit(edit: Edit): void;
  change(part: Partial<Omit<ShotState, 'finish' | 'says' | 'edit' | 'change'>>): void;
  /** Another version of the document from the server, in place of this one. */
  replace(finish: Finish, says?: string): void;
};

/** What the user works on in the shot screen; undo and redo cover the document alone. */
export function createShotStore(finish: Finish, frame: number, size: Size = { width: 1, height: 1 }) {
  return createStore<ShotState>()(
    temporal(
      (set, get) => ({
        finish,
        says: '',
        frame,
        size,
        look: 'colour',
        stops: 0,
        gamma: 1,
        backing: 'black',
        marks: false,
        compare: { mode: 'off', with: 'input', gain: 4, angle: 90, at: [0.5, 0.5] },
        shows: 'finished',
        before: false,
        matteLook: 'off',
        points: [],
        flipped: false,
        theatre: false,
        scopes: false,
        noticed: { thumbnails: {}, broken: {}, emptyMattes: [], beyondAlpha: 0 },
        save: { state: 'saved' },
        selected: mainStrand(finish).steps[0]?.id,
        edit: (edit) => set({ finish: edit.apply(get().finish), says: edit.says, preview: undefined }),
        change: (part) => set(part),
        replace: (other, says = 'take the other version') => set({ finish: other, says, preview: undefined }),
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

const drags = new WeakMap<Edit, { of: Finish; doc: Finish }>();

/** The document with what is being dragged; the same object for the same state, as React's store hooks ask. */
export function previewed({ finish, preview }: Pick<ShotState, 'finish' | 'preview'>): Finish {
  if (!preview) return finish;
  const known = drags.get(preview);
  if (known?.of === finish) return known.doc;
  try {
    const doc = preview.apply(finish);
    drags.set(preview, { of: finish, doc });
    return doc;
  } catch {
    // What was dragged is gone.
    return finish;
  }
}
