import { type ChangeEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react';

/** So long after the last letter a choice by letters is taken: as long as browsers wait for the next letter of a word. */
const restMillis = 1000;

/**
 * A native list whose choices do something at once. With the keyboard one passes other entries on the way (by letters, by arrows): then what is chosen is
 * taken after a rest, with Enter, or as the focus leaves. Escape gives it up.
 */
export function useTypedChoice(value: string, onChoose: (value: string) => void) {
  const [waiting, setWaiting] = useState<string>();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const isKeyed = useRef(false);
  useEffect(() => () => clearTimeout(timer.current), []);
  const take = (chosen: string | undefined) => {
    clearTimeout(timer.current);
    setWaiting(undefined);
    if (chosen !== undefined && chosen !== value) onChoose(chosen);
  };
  return {
    value: waiting ?? value,
    onPointerDown: () => {
      isKeyed.current = false;
    },
    onKeyDown: (e: KeyboardEvent) => {
      isKeyed.current = true;
      if (waiting === undefined) return;
      if (e.key === 'Enter') take(waiting);
      else if (e.key === 'Escape') take(undefined);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
    onChange: (e: ChangeEvent<HTMLSelectElement>) => {
      const chosen = e.target.value;
      if (!isKeyed.current) return take(chosen);
      setWaiting(chosen);
      clearTimeout(timer.current);
      timer.current = setTimeout(() => take(chosen), restMillis);
    },
    onBlur: () => take(waiting),
  };
}
