import { type InputHTMLAttributes, useEffect, useRef } from 'react';

type Props = Pick<
  InputHTMLAttributes<HTMLInputElement>,
  'min' | 'max' | 'step' | 'className' | 'title' | 'aria-label' | 'aria-valuetext' | 'onDoubleClick'
> & {
  value: number;
  /** While it is moved. */
  onPreview(value: number): void;
  /** When it is let go, and after each key: arrows, Page, Home and End. */
  onCommit(value: number): void;
  /** Given up by Escape or because the pointer is lost. */
  onCancel(): void;
};

/** A slider, with the drag's rules: preview while moving, commit when let go, Escape cancels. */
export function RangeInput({ value, onPreview, onCommit, onCancel, ...rest }: Props) {
  const input = useRef<HTMLInputElement>(null);
  /** True from a cancel until the hand lets go. */
  const cancelled = useRef(false);
  const moving = useRef(false);
  const now = useRef({ onCommit, onCancel });
  now.current = { onCommit, onCancel };
  useEffect(() => {
    const node = input.current!;
    // The browser's own event comes when the hand lets go wherever that is, and after every key; React's comes while it moves.
    const changed = () => {
      if (!cancelled.current) now.current.onCommit(node.valueAsNumber);
      cancelled.current = false;
      moving.current = false;
    };
    const cancel = () => {
      if (!moving.current || cancelled.current) return;
      cancelled.current = true;
      now.current.onCancel();
    };
    const key = (e: KeyboardEvent) => {
      if (e.key !== 'Escape' || !moving.current) return;
      e.preventDefault();
      e.stopPropagation();
      cancel();
    };
    node.addEventListener('change', changed);
    window.addEventListener('pointercancel', cancel);
    window.addEventListener('blur', cancel);
    window.addEventListener('keydown', key, true);
    return () => {
      cancel();
      node.removeEventListener('change', changed);
      window.removeEventListener('pointercancel', cancel);
      window.removeEventListener('blur', cancel);
      window.removeEventListener('keydown', key, true);
    };
  }, []);
  return (
    <input
      {...rest}
      ref={input}
      type="range"
      value={value}
      onPointerDown={() => {
        moving.current = true;
        cancelled.current = false;
      }}
      onChange={(e) => !cancelled.current && onPreview(Number(e.target.value))}
    />
  );
}
