import type { ShotDetail } from '@/api/shots';
import { duplicateHere, keepCopied, pasteHere } from '@/browser/clipboard';
import type { Player } from '@/browser/play/player';
import { type PlaySettings, withIn, withMark, withOut } from '@/browser/play/settings';
import { drawnBoard, useShotStore } from '@/browser/session/store';
import { copyOf } from '@/core/finish/copies';
import { moveStep, removeStep, setBypass } from '@/core/finish/edits';
import { findStep, mainStrand, strandOf } from '@/core/finish/finish';
import { keyedFramesOf } from '@/core/finish/keys';
import { isUse, usesAround } from '@/core/finish/uses';
import { type MatteLook, matteLooks } from '@/core/scopes/looking';
import { useKey } from './parts/use-key';
import { toggleEditing, toggleFold } from './recipes/use-tools';
import { beside } from './ribbon/keyed-frames';

/** Keys of the shot screen. They rest while a field is typed in. */
export function useShotKeys(shot: ShotDetail, player: Player | null) {
  const store = useShotStore();
  const now = () => store.getState();
  const withStep = (act: (id: string) => void) => {
    const { selected, finish } = now();
    if (selected && findStep(finish, selected)) act(selected);
  };
  /** The strand that is worked on: that of what is selected, else the main one. */
  const strandNow = () => strandOf(drawnBoard(now()), now().selected ?? '');
  const select = (by: number) => {
    const strand = strandNow();
    const ids = [strand.id, ...strand.steps.map((s) => s.id)];
    const at = Math.max(0, ids.indexOf(now().selected ?? ''));
    now().change({ selected: ids[Math.max(0, Math.min(ids.length - 1, at + by))] });
  };
  const selectStrand = (by: number) => {
    const board = drawnBoard(now());
    const main = mainStrand(board);
    const order = [main, ...board.strands.filter((s) => s !== main)];
    const at = order.indexOf(strandNow());
    now().change({ selected: order[Math.max(0, Math.min(order.length - 1, at + by))].id });
  };
  /** Goes to a frame, from where play had come to. */
  const goTo = (to: (frame: number) => number | undefined) => {
    player?.stop();
    const frame = to(now().frame);
    if (frame !== undefined) now().change({ frame: Math.max(shot.first, Math.min(shot.last, frame)) });
  };
  const go = (by: number) => goTo((frame) => frame + by);
  const goAmong = (frames: readonly number[], direction: 1 | -1) =>
    goTo((frame) => beside(frames, frame, direction));
  const set = (part: (settings: PlaySettings) => Partial<PlaySettings>) =>
    player?.settings.setState((settings) => part(settings));
  /** The frame on the screen. */
  const frameNow = () => player?.state.getState().frame ?? now().frame;

  useKey('mod+z', () => now().undo(), true);
  useKey('mod+shift+z, mod+y', () => now().redo(), true);
  useKey('left', () => go(-1), true);
  useKey('right', () => go(1), true);
  useKey('space', () => player?.play(1), true);
  useKey('shift+space', () => player?.play(-1), true);
  useKey('home', () => player && goTo(() => player.span().first), true);
  useKey('end', () => player && goTo(() => player.span().last), true);
  useKey('n', () => goAmong(keyedFramesOf(now().finish, now().selected), 1));
  useKey('p', () => goAmong(keyedFramesOf(now().finish, now().selected), -1));
  useKey('shift+n', () => goAmong(player?.settings.getState().marks ?? [], 1));
  useKey('shift+p', () => goAmong(player?.settings.getState().marks ?? [], -1));
  useKey('b', () => set((s) => withMark(s, frameNow())));
  useKey('i', () => set((s) => withIn(s, s.in === frameNow() ? undefined : frameNow())));
  useKey('o', () => set((s) => withOut(s, s.out === frameNow() ? undefined : frameNow())));
  useKey('up', () => select(-1), true);
  useKey('down', () => select(1), true);
  useKey('shift+left', () => selectStrand(-1), true);
  useKey('shift+right', () => selectStrand(1), true);
  useKey('alt+up', () => withStep((id) => now().edit((doc) => moveStep(doc, id, -1))), true);
  useKey('alt+down', () => withStep((id) => now().edit((doc) => moveStep(doc, id, 1))), true);
  useKey('delete', () => withStep((id) => now().edit((finish) => removeStep(finish, id))));
  useKey('y', () =>
    withStep((id) => now().edit((doc) => setBypass(doc, id, !findStep(doc, id)!.step.bypass))),
  );
  /** The recipe that is selected, or the one that what is selected is inside of. */
  const withUse = (act: (use: string) => void) => {
    const { finish, selected = '' } = now();
    const step = findStep(finish, selected)?.step;
    const use = step && isUse(step) ? selected : usesAround(finish, selected)[0];
    if (use) act(use);
  };
  useKey('u', () => withUse((use) => toggleFold(store, use)));
  useKey('e', () => withUse((use) => toggleEditing(store, use)));
  useKey('mod+c', () => withStep((id) => keepCopied(copyOf(now().finish, id))));
  useKey('mod+v', () => pasteHere(store));
  useKey('mod+d', () => withStep((id) => duplicateHere(store, id, false)), true);
  useKey('w', () => now().change({ before: !now().before }));
  useKey('c', () => {
    const { compare } = now();
    now().change({ compare: { ...compare, mode: compare.mode === 'off' ? 'wipe' : 'off' } });
  });
  useKey('s', () => now().change({ scopes: !now().scopes }));
  useKey('t', () => now().change({ drawer: now().drawer ? undefined : 'lanes' }));
  useKey('x', () => now().change({ flipped: !now().flipped }));
  useKey('m', () => {
    const looks = Object.keys(matteLooks) as MatteLook[];
    now().change({ matteLook: looks[(looks.indexOf(now().matteLook) + 1) % looks.length] });
  });
  useKey('r', () => {
    const { region, tool, change } = now();
    change(region || tool ? { region: undefined, tool: undefined } : { tool: { type: 'region' } });
  });
  useKey('esc', () => now().tool && now().change({ tool: undefined }));
  useKey('h', () => now().change({ theatre: !now().theatre }));
}

/** The keys, for tips and the help line. */
export const keyHelp: [string, string][] = [
  ['↑ ↓', 'select a step'],
  ['Shift ← →', 'select a strand'],
  ['Ins', 'add a step'],
  ['Shift Ins', 'add a strand'],
  ['Ctrl C, V', 'copy, paste a step'],
  ['Ctrl D', 'duplicate the step'],
  ['Alt ↑ ↓', 'move the step'],
  ['Y', 'bypass'],
  ['Del', 'remove'],
  ['U', 'unfold, fold the recipe'],
  ['E', 'edit inside the recipe'],
  ['Space', 'play, stop'],
  ['Shift Space', 'play backwards'],
  ['← →', 'frame'],
  ['Home, End', 'first, last frame that is played'],
  ['I, O', 'play from, to this frame'],
  ['N, P', 'next, previous key'],
  ['B', 'mark the frame'],
  ['Shift N, P', 'next, previous mark'],
  ['W', 'bypass all steps'],
  ['C', 'compare'],
  ['X', 'flip to the other picture'],
  ['S', 'scopes'],
  ['T', 'time: lanes, curves, keys and guides'],
  ['M', 'matte: tint, outline, on black'],
  ['R', 'compute a region only'],
  ['F', 'fit the picture'],
  ['1', 'picture at 100 %'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['?', 'all keys'],
  ['H', 'theatre'],
];
