import { useHotkeys } from 'react-hotkeys-hook';
import { keepCopied, pasteHere } from '@/browser/clipboard';
import { useShotStore } from '@/browser/shot-store';
import { tryEdit } from '@/browser/try-edit';
import { copyOf, duplicateStep } from '@/core/finish/copies';
import { moveStep, removeStep, setBypass } from '@/core/finish/edits';
import { findStep, mainStrand, strandOf } from '@/core/finish/finish';
import { type MatteLook, matteLooks } from '@/core/scopes/looking';
import type { ShotDetail } from '@/server/shots/shots';

/** Keys of the shot screen. They rest while a field is typed in. */
export function useShotKeys(shot: ShotDetail) {
  const store = useShotStore();
  const now = () => store.getState();
  const withStep = (act: (id: string) => void) => {
    const { selected, finish } = now();
    if (selected && findStep(finish, selected)) act(selected);
  };
  /** The strand that is worked on: that of what is selected, else the main one. */
  const strandNow = () => strandOf(now().finish, now().selected ?? '');
  const select = (by: number) => {
    const strand = strandNow();
    const ids = [strand.id, ...strand.steps.map((s) => s.id)];
    const at = Math.max(0, ids.indexOf(now().selected ?? ''));
    now().change({ selected: ids[Math.max(0, Math.min(ids.length - 1, at + by))] });
  };
  const selectStrand = (by: number) => {
    const { finish } = now();
    const main = mainStrand(finish);
    const order = [main, ...finish.strands.filter((s) => s !== main)];
    const at = order.indexOf(strandNow());
    now().change({ selected: order[Math.max(0, Math.min(order.length - 1, at + by))].id });
  };
  const go = (by: number) =>
    now().change({ frame: Math.max(shot.first, Math.min(shot.last, now().frame + by)) });

  useHotkeys('mod+z', () => store.temporal.getState().undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => store.temporal.getState().redo(), { preventDefault: true });
  useHotkeys('left', () => go(-1), { preventDefault: true });
  useHotkeys('right', () => go(1), { preventDefault: true });
  useHotkeys('up', () => select(-1), { preventDefault: true });
  useHotkeys('down', () => select(1), { preventDefault: true });
  useHotkeys('shift+left', () => selectStrand(-1), { preventDefault: true });
  useHotkeys('shift+right', () => selectStrand(1), { preventDefault: true });
  useHotkeys('alt+up', () => withStep((id) => tryEdit(store, () => moveStep(now().finish, id, -1))), {
    preventDefault: true,
  });
  useHotkeys('alt+down', () => withStep((id) => tryEdit(store, () => moveStep(now().finish, id, 1))), {
    preventDefault: true,
  });
  useHotkeys('delete', () => withStep((id) => now().edit(removeStep(now().finish, id))));
  useHotkeys('y', () =>
    withStep((id) => now().edit(setBypass(now().finish, id, !findStep(now().finish, id)!.step.bypass))),
  );
  useHotkeys('mod+c', () => withStep((id) => keepCopied(copyOf(now().finish, id))));
  useHotkeys('mod+v', () => pasteHere(store));
  useHotkeys('mod+d', () => withStep((id) => tryEdit(store, () => duplicateStep(now().finish, id, false))), {
    preventDefault: true,
  });
  useHotkeys('w', () => now().change({ before: !now().before }));
  useHotkeys('c', () => {
    const { compare } = now();
    now().change({ compare: { ...compare, mode: compare.mode === 'off' ? 'wipe' : 'off' } });
  });
  useHotkeys('s', () => now().change({ scopes: !now().scopes }));
  useHotkeys('x', () => now().change({ flipped: !now().flipped }));
  useHotkeys('m', () => {
    const looks = Object.keys(matteLooks) as MatteLook[];
    now().change({ matteLook: looks[(looks.indexOf(now().matteLook) + 1) % looks.length] });
  });
  useHotkeys('r', () => {
    const { region, tool, change } = now();
    change(region || tool ? { region: undefined, tool: undefined } : { tool: { sort: 'region' } });
  });
  useHotkeys('esc', () => now().tool && now().change({ tool: undefined }));
  useHotkeys('h', () => now().change({ theatre: !now().theatre }));
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
  ['← →', 'frame'],
  ['W', 'with / without'],
  ['C', 'compare'],
  ['X', 'flip to the other picture'],
  ['S', 'scopes'],
  ['M', 'matte: tint, outline, on black'],
  ['R', 'frame a region, alone computed'],
  ['F', 'fit the picture'],
  ['1', 'picture at 100 %'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['?', 'all keys'],
  ['H', 'theatre'],
];
