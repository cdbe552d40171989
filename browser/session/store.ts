import { dequal } from 'dequal';
import { createContext, useContext, useRef } from 'react';
import { createStore, useStore } from 'zustand';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { type Applied, applyEdit, type Edit } from '../../core/finish/edit';
import { type Finish, FinishError, mainStrand } from '../../core/finish/finish';
import type { Look } from '../../core/kernels/display';
import type { Size } from '../../core/picture/region';
import { boardOf } from '../../core/recipes/board';
import { guardRecipes } from '../../core/recipes/guard';
import type { Backing, MatteLook, Screen } from '../../core/scopes/looking';
import type { Values } from '../../core/steps/shared/define';
import type { Measured, Noticed } from '../engine/answers';
import { type History, noHistory, type Past, redone, remembered, replaced, undone } from './history';

/** Whether the server has what is on the screen; a failure that does not pass by itself is `lasting`. */
export type SaveState =
  | { state: 'saved' }
  | { state: 'saving' }
  | { state: 'failed'; why: string; lasting: boolean }
  | { state: 'conflict'; newest: number };

/** The reason of the last refused edit, in words. The field where it was typed shows it. */
export type Refusal = { problem: string; remedy: string };

export const compareModes = {
  off: 'One picture',
  wipe: 'Wipe',
  side: 'Side by side',
  difference: 'Difference',
} as const;

/** The other picture of a comparison: `input`, `still`, `point:strand:after`, `version:number`, `finish:id` or `reference:id`; the wipe's line by angle and a point, in shares. */
export type Comparing = {
  mode: keyof typeof compareModes;
  with: string;
  gain: number;
  angle: number;
  at: [number, number];
};

export const drawerLooks = { lanes: 'Lanes', curves: 'Curves', table: 'Table', guides: 'Guides' } as const;
export type DrawerLook = keyof typeof drawerLooks;

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
  | { type: 'region' }
  | { type: 'draw'; with: DrawTool; strand: string }
  /** Clicks on the picture choose the objects of a strand's head. */
  | { type: 'pick-objects'; strand: string }
  /** `row`: the colour goes into that row of a table. */
  | { type: 'pick-colour'; step: string; key: string; adds: boolean; row?: number }
  /** A place in the scene, from the positions that come to a step. */
  | { type: 'pick-position'; step: string; coordinates: readonly string[] }
  /** What a guide follows: a place of the scene, or a patch of the picture. */
  | { type: 'pick-guide'; guide: string; how: 'scene' | 'patch' };

export type ShotState = {
  finish: Finish;
  /** Label of the last change of the document: the newest edit, or an undo. */
  label: string;
  /** The undo history. */
  history: History;
  refusal?: Refusal;
  /** Preview of the current drag: shown at once, added to the document on release. */
  preview?: Edit;
  selected?: string;
  /** Steps that are selected beside it: what is changed in the sheet is changed in each of them. */
  also: readonly string[];
  /** What does not feed the selected point is faded on the board. */
  feedsOnly: boolean;
  /** From where links were followed, the last one at the end. */
  jumps: readonly string[];
  /** Recipes that are unfolded on the board, and the one whose inside may be changed, by the steps of their uses. */
  unfolded: readonly string[];
  editing?: string;
  frame: number;
  /** Size of the full frame, in pixels. */
  size: Size;
  look: Look;
  stops: number;
  gamma: number;
  /** How light comes to the screen. */
  screen: Screen;
  /** For data: the values shown as black and white; percentiles of the picture if not set. */
  dataRange?: readonly [number, number];
  backing: Backing;
  marks: boolean;
  /** The comparison: its two pictures and its mode. */
  compare: Comparing;
  /** The pinned comparison: the document and the frame at that time. */
  still?: { finish: Finish; point: StrandPoint; frame: number };
  /** How the matte of the selected step, or the selected matte, is shown over the picture. */
  matteLook: MatteLook;
  /** The part of the picture that alone is computed and shown, in pixels of the full frame. */
  region?: Box;
  /** The active tool for drags and clicks on the picture. */
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
  /** Reference pictures are shown beside the picture, and the one whose scopes stand beside those of the result. */
  references: boolean;
  reference?: { id: number; name: string; measured: Measured };
  /** What is changed gets a key on the frame. */
  animates: boolean;
  /** Who is here may look, and change nothing: every edit is refused. */
  looksOnly: boolean;
  /** The time drawer, and which of its looks is open. */
  drawer?: DrawerLook;
  /** Small pictures of every place, and what was noticed in them. */
  noticed: Noticed;
  save: SaveState;
  /** Values of steps that came from the picture when they were added, by step, with the frame that was looked at. */
  started: Readonly<Record<string, { frame: number; values: Values }>>;
  /**
   * Applies an edit to the current document. Returns false if the document refuses it: then nothing has changed, and `refusal` has the reason.
   */
  edit(edit: Edit | ((finish: Finish) => Edit)): boolean;
  undo(): void;
  redo(): void;
  change(part: Partial<View>): void;
  /** Another document in place of this one; undo leads back. */
  replace(finish: Finish, label?: string): void;
};

/** State outside the document. */
type View = Omit<ShotState, 'finish' | 'label' | 'history' | 'edit' | 'undo' | 'redo' | 'change' | 'replace'>;

/** State of the shot screen. Undo and redo cover the document alone. */
export function createShotStore(
  finish: Finish,
  frame: number,
  size: Size = { width: 1, height: 1 },
  history: History = noHistory,
) {
  return createStore<ShotState>()((set, get) => {
    /** Takes over what an edit, an undo or a redo made. */
    const take = ({ finish, history }: Past, label: string) =>
      set({ finish, history, label, preview: undefined, refusal: undefined });
    return {
      finish,
      label: history.past.at(-1)?.label ?? '',
      history,
      frame,
      size,
      look: 'colour',
      stops: 0,
      gamma: 1,
      screen: { by: 'plain' },
      backing: 'black',
      marks: false,
      compare: { mode: 'off', with: 'input', gain: 4, angle: 90, at: [0.5, 0.5] },
      shows: 'finished',
      before: false,
      matteLook: 'off',
      also: [],
      feedsOnly: false,
      jumps: [],
      points: [],
      flipped: false,
      theatre: false,
      scopes: false,
      references: false,
      animates: false,
      looksOnly: false,
      noticed: { thumbnails: {}, broken: {}, negative: {}, emptyMattes: [], byAlpha: [], beyondAlpha: 0 },
      save: { state: 'saved' },
      started: {},
      unfolded: [],
      // The first card of the board: a recipe opens folded.
      selected: mainStrand(boardOf(finish, [])).steps[0]?.id,
      edit: (given) => {
        const { finish, history, looksOnly } = get();
        if (looksOnly) {
          set({ preview: undefined, refusal: { ...mayOnlyLook } });
          return false;
        }
        try {
          const edit = typeof given === 'function' ? given(finish) : given;
          const done = tried(get(), edit);
          if (done.finish === finish) set({ preview: undefined, refusal: undefined });
          else take({ finish: done.finish, history: remembered(history, edit.label, done) }, edit.label);
          return true;
        } catch (error) {
          if (!(error instanceof FinishError)) throw error;
          set({ preview: undefined, refusal: { problem: `${error.problem}.`, remedy: error.remedy } });
          return false;
        }
      },
      undo: () => {
        const { history, finish } = get();
        const entry = history.past.at(-1);
        if (entry) take(undone(finish, history), `undo: ${entry.label}`);
      },
      redo: () => {
        const { history, finish } = get();
        const entry = history.future.at(-1);
        if (entry) take(redone(finish, history), `redo: ${entry.label}`);
      },
      // Another place has another range, and is one alone.
      change: (part) =>
        set({
          ...('selected' in part || 'shows' in part ? { dataRange: undefined } : {}),
          ...('selected' in part ? { also: [] } : {}),
          ...part,
        }),
      replace: (other, label = 'take the other version') =>
        take({ finish: other, history: replaced(get().history, label, get().finish, other) }, label),
    };
  });
}

/** An edit done on the document, by every rule that holds for it. @throws {FinishError} what must be refused. */
function tried({ finish, editing }: Pick<ShotState, 'finish' | 'editing'>, edit: Edit): Applied {
  const done = applyEdit(finish, edit);
  if (!edit.opens) guardRecipes(finish, done.finish, editing);
  return done;
}

/** Why an edit would be refused, in words; undefined where it can be done. Whoever may only look is told so once, with the edit itself. */
export function refusalOf(state: Pick<ShotState, 'finish' | 'editing'>, edit: Edit): string | undefined {
  try {
    tried(state, edit);
    return undefined;
  } catch (error) {
    if (!(error instanceof FinishError)) throw error;
    return `${error.problem}. ${error.remedy}`;
  }
}

export const mayOnlyLook: Refusal = {
  problem: 'You may look at this project, not change it.',
  remedy: 'Ask somebody who manages it.',
};

export type ShotStore = ReturnType<typeof createShotStore>;

export const ShotContext = createContext<ShotStore | null>(null);

export const useShotStore = () => useContext(ShotContext)!;

/** Part of the shot screen's state. */
export const useShot = <T>(part: (s: ShotState) => T): T => useStore(useShotStore(), part);

/** A part of it that is made anew each time: the one from before, for as long as it equals that. Who shows it is drawn again only when it changes. */
export function useShotPart<T>(part: (s: ShotState) => T): T {
  const kept = useRef<{ part: T }>(undefined);
  return useShot((s) => {
    const next = part(s);
    if (!kept.current || !dequal(kept.current.part, next)) kept.current = { part: next };
    return kept.current.part;
  });
}

/** The finish as the board draws it: what its folded recipes hide is not in it. */
export const drawnBoard = ({ finish, unfolded }: Pick<ShotState, 'finish' | 'unfolded'>): Finish =>
  boardOf(finish, unfolded);

/** Applies an edit. Returns the reason in words if the document refuses it, for fields that show it. */
export function useRefusing(): (edit: Parameters<ShotState['edit']>[0]) => string | undefined {
  const store = useShotStore();
  return (edit) => {
    if (store.getState().edit(edit)) return undefined;
    const { refusal, looksOnly, change } = store.getState();
    // Said where it was typed, and not once more elsewhere; what holds for all edits is no field's to say.
    if (!looksOnly) change({ refusal: undefined });
    return refusal && `${refusal.problem} ${refusal.remedy}`;
  };
}

const drags = new WeakMap<Edit, { of: Finish; editing: string | undefined; doc: Finish }>();

/**
 * The document with what is being dragged; the same object for the same state, as React's store hooks ask. What would be refused when it is let go is
 * not shown before.
 */
export function previewed({
  finish,
  preview,
  editing,
}: Pick<ShotState, 'finish' | 'preview' | 'editing'>): Finish {
  if (!preview) return finish;
  const known = drags.get(preview);
  if (known?.of === finish && known.editing === editing) return known.doc;
  let doc = finish;
  try {
    doc = tried({ finish, editing }, preview).finish;
  } catch {
    // What was dragged is gone, or may not be changed.
  }
  drags.set(preview, { of: finish, editing, doc });
  return doc;
}
