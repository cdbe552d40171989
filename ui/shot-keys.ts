import type { ShotDetail } from '@/api/shots';
import { duplicateHere, keepCopied, pasteHere } from '@/browser/clipboard';
import type { Player } from '@/browser/play/player';
import { type PlaySettings, withIn, withMark, withOut } from '@/browser/play/settings';
import { drawnBoard, useShotStore } from '@/browser/session/store';
import { columnsOf } from '@/core/finish/columns';
import { copyOf } from '@/core/finish/copies';
import { type Edit, onEach } from '@/core/finish/edit';
import { changeStrand, moveStep, removeStep, setBypass } from '@/core/finish/edits';
import { type Finish, findStep, strandOf } from '@/core/finish/finish';
import { keyedFramesOf } from '@/core/finish/keys';
import { isUse, usesAround } from '@/core/finish/uses';
import { type MatteLook, matteLooks } from '@/core/scopes/looking';
import { useCommand } from './keys/use-command';
import { useKey } from './parts/use-key';
import { toggleEditing, toggleFold } from './recipes/use-tools';
import { beside } from './ribbon/keyed-frames';
import { goToNextArea, goToValues } from './workspace/areas';
import { setArrangement } from './workspace/arrangement';

/** Keys of the shot screen. They rest while a field is typed in. */
export function useShotKeys(shot: ShotDetail, player: Player | null) {
  const store = useShotStore();
  const now = () => store.getState();
  const withStep = (act: (id: string) => void) => {
    const { selected, finish } = now();
    if (selected && findStep(finish, selected)) act(selected);
  };
  /** What is done to a step is done to all that are selected with it, as one edit. */
  const onAll = (editOf: (doc: Finish, id: string) => Edit) =>
    withStep((id) => {
      const also = now().also.filter((other) => findStep(now().finish, other));
      now().edit((doc) => onEach(doc, [id, ...also], editOf));
    });
  /** The strand that is worked on: that of what is selected, else the main one. */
  const strandNow = () => strandOf(drawnBoard(now()), now().selected ?? '');
  const select = (by: number) => {
    const strand = strandNow();
    const ids = [strand.id, ...strand.steps.map((s) => s.id)];
    const at = Math.max(0, ids.indexOf(now().selected ?? ''));
    now().change({ selected: ids[Math.max(0, Math.min(ids.length - 1, at + by))] });
  };
  const selectStrand = (by: number) => {
    const order = columnsOf(drawnBoard(now()));
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

  useCommand('undo', () => now().undo());
  useCommand('redo', () => now().redo());
  useCommand('frame-before', () => go(-1));
  useCommand('frame-after', () => go(1));
  useCommand('play', () => player?.play(1));
  useCommand('play-back', () => player?.play(-1));
  useCommand('first-frame', () => player && goTo(() => player.span().first));
  useCommand('last-frame', () => player && goTo(() => player.span().last));
  useCommand('next-key', () => goAmong(keyedFramesOf(now().finish, now().selected), 1));
  useCommand('key-before', () => goAmong(keyedFramesOf(now().finish, now().selected), -1));
  useCommand('next-mark', () => goAmong(player?.settings.getState().marks ?? [], 1));
  useCommand('mark-before', () => goAmong(player?.settings.getState().marks ?? [], -1));
  useCommand('mark', () => set((s) => withMark(s, frameNow())));
  useCommand('in', () => set((s) => withIn(s, s.in === frameNow() ? undefined : frameNow())));
  useCommand('out', () => set((s) => withOut(s, s.out === frameNow() ? undefined : frameNow())));
  useCommand('step-above', () => select(-1));
  useCommand('step-below', () => select(1));
  useCommand('strand-left', () => selectStrand(-1));
  useCommand('strand-right', () => selectStrand(1));
  /** Selects one more step of the strand, above or below those that are selected. */
  const extend = (by: 1 | -1) => {
    const { selected = '', also } = now();
    const ids = strandNow().steps.map((s) => s.id);
    const taken = [selected, ...also].map((id) => ids.indexOf(id)).filter((i) => i >= 0);
    const next = ids[by < 0 ? Math.min(...taken) - 1 : Math.max(...taken) + 1];
    if (next !== undefined) now().change({ also: [...also, next] });
  };
  useCommand('extend-above', () => extend(-1));
  useCommand('extend-below', () => extend(1));
  useCommand('values', goToValues);
  useCommand('next-area', goToNextArea);
  useCommand('move-up', () => withStep((id) => now().edit((doc) => moveStep(doc, id, -1))));
  useCommand('move-down', () => withStep((id) => now().edit((doc) => moveStep(doc, id, 1))));
  useCommand('remove', () => onAll(removeStep));
  useCommand('bypass', () => {
    const to = !findStep(now().finish, now().selected ?? '')?.step.bypass;
    onAll((doc, id) => setBypass(doc, id, to));
  });
  /** The recipe that is selected, or the one that what is selected is inside of. */
  const withUse = (act: (use: string) => void) => {
    const { finish, selected = '' } = now();
    const step = findStep(finish, selected)?.step;
    const use = step && isUse(step) ? selected : usesAround(finish, selected)[0];
    if (use) act(use);
    return use !== undefined;
  };
  useCommand('fold', () => {
    if (withUse((use) => toggleFold(store, use))) return;
    const { id, folded } = strandNow();
    if (now().edit((doc) => changeStrand(doc, id, { folded: folded ? undefined : true })) && !folded)
      now().change({ selected: id });
  });
  useCommand('edit-inside', () => withUse((use) => toggleEditing(store, use)));
  useCommand('copy', () => withStep((id) => keepCopied(copyOf(now().finish, id))));
  useCommand('paste', () => pasteHere(store));
  useCommand('duplicate', () => withStep((id) => duplicateHere(store, id, false)));
  useCommand('bypass-all', () => now().change({ before: !now().before }));
  useCommand('compare', () => {
    const { compare } = now();
    now().change({ compare: { ...compare, mode: compare.mode === 'off' ? 'wipe' : 'off' } });
  });
  useCommand('scopes', () => now().change({ scopes: !now().scopes }));
  useCommand('references', () => now().change({ references: !now().references }));
  useCommand('drawer', () => now().change({ drawer: now().drawer ? undefined : 'lanes' }));
  useCommand('flip', () => now().change({ flipped: !now().flipped }));
  useCommand('matte', () => {
    const looks = Object.keys(matteLooks) as MatteLook[];
    now().change({ matteLook: looks[(looks.indexOf(now().matteLook) + 1) % looks.length] });
  });
  useCommand('region', () => {
    const { region, tool, change } = now();
    change(region || tool ? { region: undefined, tool: undefined } : { tool: { type: 'region' } });
  });
  useKey('esc', () => now().tool && now().change({ tool: undefined }));
  useCommand('arrangement', setArrangement);
  useCommand('theatre', () => now().change({ theatre: !now().theatre }));
}
