import { type PointerEvent as ReactPointerEvent, useEffect, useRef } from 'react';

/** Pointer position, and movement since the start of the drag. */
export type Hand = {
  clientX: number;
  clientY: number;
  shiftKey: boolean;
  altKey: boolean;
  /** From where it came down, in pixels of the screen. */
  dx: number;
  dy: number;
  /** True once it has left that place: until then a drag is a click. */
  moved: boolean;
};

/** Actions of a drag; `T` is the dragged thing. */
export type Drag<T> = {
  /** Returns the dragged thing; no drag starts if it returns undefined. */
  start(e: ReactPointerEvent): T | undefined;
  /** Shows what letting go here would do. */
  preview(held: T, hand: Hand): void;
  /** The hand lets go. */
  commit(held: T, hand: Hand): void;
  /** The drag is given up: everything is as before. */
  cancel(held: T): void;
  /** Something inside the element follows the hand by itself. */
  passive?: true;
};

/** A hand that shakes by less does not move. */
const stillness = 2;

/**
 * The one way to drag: press, preview while moving, commit when let go. Escape, a second button, the loss of the pointer or of the window, and a
 * screen that goes away cancel it. Gives what an element does when it is pressed.
 */
export function useDrag<T>(drag: Drag<T>): (e: ReactPointerEvent) => void {
  const now = useRef(drag);
  now.current = drag;
  const end = useRef<() => void>(undefined);
  useEffect(() => () => end.current?.(), []);
  return (pressed) => {
    if (pressed.button !== 0 || end.current) return;
    const held = drag.start(pressed);
    if (held === undefined) return;
    const { clientX: x, clientY: y, pointerId } = pressed;
    const target = pressed.currentTarget as Element;
    // Outside its element, and outside the window, the hand is still on it.
    if (!drag.passive) target.setPointerCapture(pointerId);
    let moved = false;
    const hand = (e: PointerEvent): Hand => {
      const [dx, dy] = [e.clientX - x, e.clientY - y];
      moved ||= Math.hypot(dx, dy) > stillness;
      const { clientX, clientY, shiftKey, altKey } = e;
      return { clientX, clientY, shiftKey, altKey, dx, dy, moved };
    };
    const mine = (e: PointerEvent) => e.pointerId === pointerId;
    const over = () => {
      end.current = undefined;
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', lost);
      window.removeEventListener('keydown', key, true);
      window.removeEventListener('blur', cancel);
      if (target.hasPointerCapture(pointerId)) target.releasePointerCapture(pointerId);
    };
    const cancel = () => {
      over();
      now.current.cancel(held);
    };
    const move = (e: PointerEvent) => mine(e) && now.current.preview(held, hand(e));
    const up = (e: PointerEvent) => {
      if (!mine(e)) return;
      over();
      now.current.commit(held, hand(e));
    };
    const lost = (e: PointerEvent) => mine(e) && cancel();
    const key = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      // It gives up the drag and nothing else.
      e.preventDefault();
      e.stopPropagation();
      cancel();
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', lost);
    window.addEventListener('keydown', key, true);
    window.addEventListener('blur', cancel);
    end.current = cancel;
  };
}
