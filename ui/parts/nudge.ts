import type { KeyboardEvent } from 'react';

const arrows: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * The keyboard's way to drag: how far an arrow key moves what has the focus, to the right and down; with Shift ten times as far, with Alt a tenth. The key
 * is then nothing else's. Undefined for other keys.
 */
export function nudgeOf(e: KeyboardEvent): { dx: number; dy: number } | undefined {
  const arrow = arrows[e.key];
  if (!arrow || e.ctrlKey || e.metaKey) return;
  e.preventDefault();
  // The keys of the screen listen to the document, as React itself does here.
  e.nativeEvent.stopImmediatePropagation();
  const by = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
  return { dx: arrow[0] * by, dy: arrow[1] * by };
}
