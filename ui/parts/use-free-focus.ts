import { useEffect } from 'react';
import { isTyping } from './use-key';

/**
 * The focus never stays where it hides the keys of the screen: a list gives it back once something was chosen, a slider, a switch or a button once the
 * hand lets go, and Escape leaves any field. Who goes by keyboard keeps it, and so does what has keys of its own (`data-keeps-focus`).
 */
export function useFreeFocus() {
  useEffect(() => {
    let byHand = false;
    const pressed = () => {
      byHand = true;
    };
    const key = (e: KeyboardEvent) => {
      byHand = false;
      const { target } = e;
      if (e.key !== 'Escape' || e.defaultPrevented || !(target instanceof HTMLElement)) return;
      if (isTyping(target) || target instanceof HTMLSelectElement || target instanceof HTMLInputElement)
        target.blur();
    };
    const changed = ({ target }: Event) => {
      const isControl =
        target instanceof HTMLSelectElement || (target instanceof HTMLInputElement && !isTyping(target));
      if (byHand && isControl && !target.closest('dialog')) target.blur();
    };
    // The space bar plays: it must not press the last button once more.
    const clicked = ({ target }: Event) => {
      const button = target instanceof Element && target.closest('button');
      if (byHand && button && !button.closest('dialog, [data-keeps-focus]')) button.blur();
    };
    document.addEventListener('pointerdown', pressed, true);
    document.addEventListener('click', clicked);
    // Last of all, so that a field can take its Escape for itself.
    document.addEventListener('keydown', key);
    document.addEventListener('change', changed);
    return () => {
      document.removeEventListener('pointerdown', pressed, true);
      document.removeEventListener('click', clicked);
      document.removeEventListener('keydown', key);
      document.removeEventListener('change', changed);
    };
  }, []);
}
