import { useHotkeys } from 'react-hotkeys-hook';
import { useShotStore } from '@/browser/shot-store';
import { moveStep, removeStep, setBypass } from '@/core/finish/edits';
import { findStep, mainStrand } from '@/core/finish/finish';
import type { ShotDetail } from '@/server/shots/shots';

/** Keys of the shot screen. They rest while a field is typed in. */
export function useShotKeys(shot: ShotDetail) {
  const store = useShotStore();
  const now = () => store.getState();
  const withStep = (act: (id: string) => void) => {
    const { selected, finish } = now();
    if (selected && findStep(finish, selected)) act(selected);
  };
  const select = (by: number) => {
    const ids = [finishMain().id, ...finishMain().steps.map((s) => s.id)];
    const at = Math.max(0, ids.indexOf(now().selected ?? ''));
    now().change({ selected: ids[Math.max(0, Math.min(ids.length - 1, at + by))] });
  };
  const finishMain = () => mainStrand(now().finish);
  const go = (by: number) =>
    now().change({ frame: Math.max(shot.first, Math.min(shot.last, now().frame + by)) });

  useHotkeys('mod+z', () => store.temporal.getState().undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => store.temporal.getState().redo(), { preventDefault: true });
  useHotkeys('left', () => go(-1), { preventDefault: true });
  useHotkeys('right', () => go(1), { preventDefault: true });
  useHotkeys('up', () => select(-1), { preventDefault: true });
  useHotkeys('down', () => select(1), { preventDefault: true });
  useHotkeys('alt+up', () => withStep((id) => now().edit(moveStep(now().finish, id, -1))), {
    preventDefault: true,
  });
  useHotkeys('alt+down', () => withStep((id) => now().edit(moveStep(now().finish, id, 1))), {
    preventDefault: true,
  });
  useHotkeys('delete', () => withStep((id) => now().edit(removeStep(now().finish, id))));
  useHotkeys('y', () =>
    withStep((id) => now().edit(setBypass(now().finish, id, !findStep(now().finish, id)!.step.bypass))),
  );
  useHotkeys('w', () => now().change({ before: !now().before }));
  useHotkeys('h', () => now().change({ theatre: !now().theatre }));
}

/** The keys, for tips and the help line. */
export const keyHelp: [string, string][] = [
  ['↑ ↓', 'select a step'],
  ['Ins', 'add a step'],
  ['Alt ↑ ↓', 'move the step'],
  ['Y', 'bypass'],
  ['Del', 'remove'],
  ['← →', 'frame'],
  ['W', 'with / without'],
  ['H', 'theatre'],
];
