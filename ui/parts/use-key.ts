import { type HotkeyCallback, useHotkeys } from 'react-hotkeys-hook';

/** Keys that a control which is no text field uses itself. */
const ownKeys: Record<string, RegExp> = {
  range: /^(Arrow|Home$|End$|Page)/,
  radio: /^(Arrow| $)/,
  checkbox: /^ $/,
  select: /^(Arrow|Home$|End$|Page|Enter$| $)|^.$/,
  button: /^(Enter$| $)/,
};

const kindOf = (target: EventTarget | null): string => {
  if (target instanceof HTMLInputElement)
    return ['range', 'radio', 'checkbox', 'button', 'submit'].includes(target.type) ? target.type : 'text';
  if (target instanceof HTMLTextAreaElement) return 'text';
  if (target instanceof HTMLSelectElement) return 'select';
  if (target instanceof HTMLButtonElement) return 'button';
  if (target instanceof HTMLElement && target.isContentEditable) return 'text';
  return '';
};

/** True where letters go into what has the focus. */
export const isTyping = (target: EventTarget | null): boolean => kindOf(target) === 'text';

function isTaken(e: KeyboardEvent): boolean {
  const kind = kindOf(e.target);
  if (kind === 'text') return true;
  if (ownKeys[kind]?.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey) return true;
  // A dialog has its own keys, and a panel that covers the shot holds them back, but for going back and forth.
  if (document.querySelector('dialog[open]')) return true;
  const isUndo = (e.ctrlKey || e.metaKey) && /^[zy]$/i.test(e.key);
  return !isUndo && document.querySelector('[data-holds-keys]') !== null;
}

/**
 * A key of the screen, by the letter it gives on whatever keyboard. It is left to a field that is typed in, to a control that uses it itself, and to
 * an open dialog.
 */
export function useKey(keys: string, act: HotkeyCallback, prevents = false) {
  useHotkeys(keys, act, {
    // The space bar is known by its place alone.
    useKey: !/\bspace\b/.test(keys),
    enableOnFormTags: true,
    ignoreEventWhen: isTaken,
    preventDefault: prevents,
  });
}
